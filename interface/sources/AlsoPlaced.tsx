'use client';

import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { count } from '../parts/words';

interface Props {
  /** Clips of the chosen sources that are placed already. */
  readonly placed: number;
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
}

/** Whether a trim is for the clips that are placed already as well; nothing while there are none. */
export function AlsoPlaced({ placed, checked, onChange }: Props) {
  if (placed === 0) return null;
  return (
    <FormControlLabel
      control={<Checkbox size="small" checked={checked} onChange={(_, next) => onChange(next)} />}
      label={`Also for the ${count(placed, 'clip')} already placed`}
    />
  );
}

'use client';

import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import type { Source } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { useProject } from '../session/SessionContext';

/** How many clips of the chosen sources are placed already. */
export function usePlaced(chosen: readonly Source[]): number {
  const { clips } = useProject();
  const ids = new Set(chosen.map(({ id }) => id));
  return clips.filter((clip) => ids.has(clip.sourceId)).length;
}

interface Props {
  /** See {@link usePlaced}. */
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

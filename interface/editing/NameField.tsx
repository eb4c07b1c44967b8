'use client';

import InputBase from '@mui/material/InputBase';
import { useTyped } from './useTyped';

interface Props {
  readonly label: string;
  readonly name: string;
  /** Letters. */
  readonly most: number;
  readonly sx: object;
  readonly autoFocus?: boolean;
  readonly onName: (name: string) => void;
  /** Told when it was applied or given up: for a field that is there only while it is typed into. */
  readonly onDone?: () => void;
}

/** A name that can be typed over where it stands: Enter or leaving it applies, Escape takes back. */
export function NameField({ label, name, most, sx, autoFocus = false, onName, onDone }: Props) {
  const { handlers } = useTyped(
    name,
    (text) => {
      const wanted = text.trim().slice(0, most);
      if (wanted !== '') onName(wanted);
      return null;
    },
    onDone,
  );
  return (
    <InputBase
      autoFocus={autoFocus}
      inputProps={{ 'aria-label': label, maxLength: most }}
      {...handlers}
      onKeyDown={(event) => {
        handlers.onKeyDown(event);
        if (event.key === 'Enter') (event.target as HTMLElement).blur();
      }}
      sx={sx}
    />
  );
}

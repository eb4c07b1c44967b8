'use client';

import InputBase from '@mui/material/InputBase';
import { useState } from 'react';

interface Props {
  readonly label: string;
  readonly name: string;
  readonly most: number;
  readonly sx: object;
  readonly onName: (name: string) => void;
}

/** A name that can be typed over where it stands: Enter or leaving it applies, Escape takes back. */
export function NameField({ label, name, most, sx, onName }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const finish = (): void => {
    const wanted = draft?.trim().slice(0, most);
    setDraft(null);
    if (wanted && wanted !== name) onName(wanted);
  };
  return (
    <InputBase
      value={draft ?? name}
      inputProps={{ 'aria-label': label, maxLength: most }}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => {
        if (event.key === 'Enter') (event.target as HTMLElement).blur();
        if (event.key === 'Escape') setDraft(null);
      }}
      sx={sx}
    />
  );
}

'use client';

import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { useProject } from '../session/SessionContext';

/** A place in the programme by timecode or time, as the project shows it. Enter applies, Escape takes back. */
export function PlaceField({
  label,
  frame,
  onPlace,
}: {
  label: string;
  frame: number;
  onPlace: (frame: number) => void;
}) {
  const project = useProject();
  const [draft, setDraft] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const shown = placeText(project, frame, 3);
  const give = (): void => {
    setDraft(null);
    setError(null);
  };
  const apply = (): void => {
    if (draft === null || draft.trim() === shown) return give();
    const place = parsePlace(project, draft);
    if (typeof place !== 'number') return setError(place.error);
    give();
    onPlace(place);
  };
  return (
    <TextField
      label={label}
      value={draft ?? shown}
      error={error !== null}
      helperText={error}
      onChange={(event) => {
        setDraft(event.target.value);
        setError(null);
      }}
      onBlur={apply}
      onKeyDown={(event) => {
        if (event.key === 'Enter') {
          event.preventDefault();
          apply();
        }
        if (event.key === 'Escape' && draft !== null) {
          event.stopPropagation();
          give();
        }
      }}
      sx={{ width: 132 }}
    />
  );
}

'use client';

import TextField from '@mui/material/TextField';
import { useState } from 'react';
import type { Project } from '@/core/programme/model';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { useProject } from '../session/SessionContext';

/** A place in the programme by timecode or time, as the project shows it. Enter applies, Escape takes back. */
export function PlaceField({
  label,
  frame,
  of,
  help = null,
  onPlace,
}: {
  label: string;
  frame: number;
  /** How time is counted, where not as in the project. */
  of?: Pick<Project, 'time' | 'sampleRate'>;
  help?: string | null;
  onPlace: (frame: number) => void;
}) {
  const own = useProject();
  const project = of ?? own;
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
      helperText={error ?? help}
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
      sx={{ minWidth: 132, flex: help === null ? '0 0 132px' : undefined }}
    />
  );
}

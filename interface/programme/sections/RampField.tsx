'use client';

import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { changeLook, LONGEST_RAMP_MS, SHORTEST_RAMP_MS, useLook } from '../look';
import { errorOf } from '../levelDraft';
import { readNumber } from '../levelFigures';

/** How long the gain ramps into and out of the parts that are changed from now on. Enter or leaving the field applies it. */
export function RampField() {
  const { rampMs } = useLook();
  const [draft, setDraft] = useState<string | null>(null);
  const message = `Ramps: a number from ${SHORTEST_RAMP_MS} to ${LONGEST_RAMP_MS.toLocaleString('en')} ms`;
  const read = draft === null ? rampMs : readNumber(draft, message, SHORTEST_RAMP_MS, LONGEST_RAMP_MS);
  const apply = (): void => {
    if (typeof read !== 'number') return;
    setDraft(null);
    changeLook({ rampMs: read });
  };
  return (
    <TextField
      label="Ramps (ms)"
      value={draft ?? String(rampMs)}
      error={typeof read !== 'number'}
      helperText={errorOf(read)}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={apply}
      onKeyDown={(event) => {
        if (event.key === 'Enter') apply();
        if (event.key === 'Escape') setDraft(null);
      }}
      sx={{ width: typeof read === 'number' ? 110 : 180, flex: 'none' }}
    />
  );
}

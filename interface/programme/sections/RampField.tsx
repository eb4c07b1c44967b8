'use client';

import TextField from '@mui/material/TextField';
import { useTyped } from '../../parts/useTyped';
import { changeLook, LONGEST_RAMP_MS, SHORTEST_RAMP_MS, useLook } from '../look';
import { readNumber } from '../level/levelFigures';

const MESSAGE = `Ramps: a number from ${SHORTEST_RAMP_MS} to ${LONGEST_RAMP_MS.toLocaleString('en')} ms`;

/** How long the gain ramps into and out of the parts that are changed from now on. */
export function RampField() {
  const { rampMs } = useLook();
  const { error, handlers } = useTyped(String(rampMs), (text) => {
    const read = readNumber(text, MESSAGE, SHORTEST_RAMP_MS, LONGEST_RAMP_MS);
    if (typeof read !== 'number') return read.error;
    changeLook({ rampMs: read });
    return null;
  });
  return (
    <TextField
      label="Ramps (ms)"
      error={error !== null}
      helperText={error}
      {...handlers}
      sx={{ width: error === null ? 110 : 180, flex: 'none' }}
    />
  );
}

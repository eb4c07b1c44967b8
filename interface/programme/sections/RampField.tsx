'use client';

import TextField from '@mui/material/TextField';
import { readNumber } from '@/core/text/typedNumber';
import { useTyped } from '../../editing/useTyped';
import { changeView, LONGEST_RAMP, SHORTEST_RAMP, useViewSettings } from '../viewSettings';

const MS = 1_000;
const [MIN, MAX] = [SHORTEST_RAMP * MS, LONGEST_RAMP * MS];
const MESSAGE = `Ramps: a number from ${MIN} to ${MAX.toLocaleString('en')} ms`;

/** How long the gain ramps into and out of the parts that are changed from now on. */
export function RampField() {
  const { rampSeconds } = useViewSettings();
  const { error, handlers } = useTyped(String(Number((rampSeconds * MS).toFixed(3))), (text) => {
    const read = readNumber(text, MESSAGE, [MIN, MAX, 'ms']);
    if (typeof read !== 'number') return read.error;
    changeView({ rampSeconds: read / MS });
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

'use client';

import { NumberField } from '../../editing/NumberField';
import { changeView, LONGEST_RAMP, SHORTEST_RAMP, useViewSettings } from '../viewSettings';

const MS = 1_000;
const RANGE = { name: 'Ramps', min: SHORTEST_RAMP * MS, max: LONGEST_RAMP * MS, unit: 'ms' };

/** How long the gain ramps into and out of the parts that are changed from now on. */
export function RampField() {
  const { rampSeconds } = useViewSettings();
  return (
    <NumberField
      label="Ramps (ms)"
      value={rampSeconds * MS}
      range={RANGE}
      onValue={(ms) => changeView({ rampSeconds: ms / MS })}
    />
  );
}

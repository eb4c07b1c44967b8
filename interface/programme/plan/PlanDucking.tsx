'use client';

import Box from '@mui/material/Box';
import { DUCK_NAMES, DUCK_RANGES } from '@/core/programme/ducking';
import { duckTimingOf, type Plan } from '@/core/programme/plan';
import { NumberField } from '../../editing/NumberField';
import { TIMING_KEYS } from '../duck/duckDraft';

/** How music that is partly under speech goes from one level of a plan to the other. */
export function PlanDucking({ plan, onPlan }: { plan: Plan; onPlan: (plan: Plan) => void }) {
  if (!plan.levels.musicUnder || !plan.levels.musicAlone) return null;
  const timing = duckTimingOf(plan);
  return (
    <Box
      role="group"
      aria-label="How music goes under speech"
      sx={{ display: 'flex', alignItems: 'start', gap: 1, mt: 1.5, flexWrap: 'wrap', fontSize: 12.5 }}
    >
      <Box sx={{ lineHeight: '38px' }}>Music heard both ways, ms:</Box>
      {TIMING_KEYS.map((key) => (
        <NumberField
          key={key}
          label={DUCK_NAMES[key]}
          value={timing[key]}
          range={{ name: DUCK_NAMES[key], unit: 'ms', ...DUCK_RANGES[key] }}
          width={key === 'bridgeMs' ? 150 : 96}
          onValue={(ms) => onPlan({ ...plan, ducking: { ...timing, [key]: ms } })}
        />
      ))}
    </Box>
  );
}

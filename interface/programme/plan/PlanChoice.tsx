'use client';

import { readPlan, writePlan } from '@/core/proposals/planFile';
import { SPEECH_FIRST, type Plan } from '@/core/programme/plan';
import { ownPlans } from '@/storage/presets';
import { PresetMenu, type PresetKind } from '../../ui/PresetMenu';

const PLANS: PresetKind<Plan> = {
  one: 'plan',
  shipped: [SPEECH_FIRST],
  own: ownPlans,
  read: readPlan,
  write: writePlan,
};

/** Which plan. */
export const PlanChoice = ({ plan, onPlan }: { plan: Plan; onPlan: (plan: Plan) => void }) => (
  <PresetMenu kind={PLANS} preset={plan} onPreset={onPlan} />
);

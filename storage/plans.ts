import type { Plan } from '@/core/programme/plan';
import { settingsStore } from './stores';

const KEY = 'own-plans';

/** The plans that were kept, oldest first. */
export async function listOwnPlans(): Promise<Plan[]> {
  return (await settingsStore.getItem<Plan[]>(KEY)) ?? [];
}

/** Keeps a plan; one of the same name gives way. */
export async function saveOwnPlan(plan: Plan): Promise<Plan[]> {
  const plans = await listOwnPlans();
  const at = plans.findIndex(({ name }) => name === plan.name);
  const next = at < 0 ? [...plans, plan] : plans.with(at, plan);
  await settingsStore.setItem(KEY, next);
  return next;
}

/** Forgets a plan. Projects that use it keep their copy. */
export async function deleteOwnPlan(name: string): Promise<Plan[]> {
  const next = (await listOwnPlans()).filter((plan) => plan.name !== name);
  await settingsStore.setItem(KEY, next);
  return next;
}

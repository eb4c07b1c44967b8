import { isPlan } from '@/core/proposals/planFile';
import type { Plan } from '@/core/programme/plan';
import { changeList, readList, type KeptList } from './lists';

const KEY = 'own-plans';

/** The plans that were kept, oldest first, and what of them cannot be read. */
export const listOwnPlans = (): Promise<KeptList<Plan>> => readList(KEY, isPlan);

/** Keeps a plan; one of the same name gives way. */
export const saveOwnPlan = (plan: Plan): Promise<Plan[]> =>
  changeList(KEY, isPlan, (plans) => {
    const at = plans.findIndex(({ name }) => name === plan.name);
    return at < 0 ? [...plans, plan] : plans.with(at, plan);
  });

/** Forgets a plan. Projects that use it keep their copy. */
export const deleteOwnPlan = (name: string): Promise<Plan[]> =>
  changeList(KEY, isPlan, (plans) => plans.filter((plan) => plan.name !== name));

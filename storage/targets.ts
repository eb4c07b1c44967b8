import { isTarget } from '@/core/check/schema';
import type { Target } from '@/core/check/target';
import { changeList, readList, type KeptList } from './lists';

const KEY = 'own-targets';

/** The targets the editor made, oldest first, and what of them cannot be read. */
export const listOwnTargets = (): Promise<KeptList<Target>> => readList(KEY, isTarget);

/** Keeps a target: a new one at the end, a changed one in its place. */
export const saveOwnTarget = (target: Target): Promise<Target[]> =>
  changeList(KEY, isTarget, (targets) => {
    const at = targets.findIndex((known) => known.id === target.id);
    return at < 0 ? [...targets, target] : targets.with(at, target);
  });

/** Forgets a target. Projects that use it keep their copy. */
export const deleteOwnTarget = (id: string): Promise<Target[]> =>
  changeList(KEY, isTarget, (targets) => targets.filter((target) => target.id !== id));

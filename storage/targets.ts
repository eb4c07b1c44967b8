import type { Target } from '@/core/targets/target';
import { settingsStore } from './stores';

const KEY = 'own-targets';

/** The targets the editor made, oldest first. */
export async function listOwnTargets(): Promise<Target[]> {
  return (await settingsStore.getItem<Target[]>(KEY)) ?? [];
}

/** Keeps a target: a new one at the end, a changed one in its place. */
export async function saveOwnTarget(target: Target): Promise<Target[]> {
  const targets = await listOwnTargets();
  const at = targets.findIndex((known) => known.id === target.id);
  const next = at < 0 ? [...targets, target] : targets.with(at, target);
  await settingsStore.setItem(KEY, next);
  return next;
}

/** Forgets a target. Projects that use it keep their copy. */
export async function deleteOwnTarget(id: string): Promise<Target[]> {
  const next = (await listOwnTargets()).filter((target) => target.id !== id);
  await settingsStore.setItem(KEY, next);
  return next;
}

import { getPreference, putPreference } from '@/storage/preferences';
import { storesWhole } from '@/storage/stores';
import { isBroughtIn } from '../session/bringingIn';

const LOOKED = 'orphans looked for';
/** How often it is worth a look, ms. */
const EVERY_MS = 12 * 60 * 60_000;

/**
 * Lets go, now and then, sound that no project names: imports that were cut short leave some. Nobody waits for it, and where it
 * fails it is tried the next time.
 */
export async function lookForOrphans(): Promise<void> {
  const looked: unknown = await getPreference(LOOKED).catch(() => Infinity);
  if (typeof looked === 'number' && Math.abs(Date.now() - looked) < EVERY_MS) return;
  // While another tab holds an old database open, stores may be missing: a worker that made one would wait for it.
  if (!(await storesWhole())) return;
  // By the clock alone what comes in is young; the clock may be set.
  if (await isBroughtIn()) return;
  const worker = new Worker(new URL('./orphans.worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }) => {
    worker.terminate();
    if (data === 'done') void putPreference(LOOKED, Date.now()).catch(() => undefined);
  };
  worker.onerror = () => worker.terminate();
}

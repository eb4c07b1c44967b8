import type { History } from '@/core/programme/history';
import { saveProject } from '@/storage/projects';
import type { ProjectLock } from './projectLock';

/** How long until what could not be saved is tried again, ms. */
const AGAIN_MS = 10_000;

/** What of a project was not saved yet when its page was left; nobody else works on it meanwhile. */
interface Unsaved {
  readonly history: History;
  readonly lock: ProjectLock;
  /** It was tried, and could not be. */
  readonly failed: boolean;
}

const left = new Map<string, Unsaved>();

/** Holds on to what is not saved, as long as this page is not reloaded. */
export const holdUnsaved = (id: string, history: History, lock: ProjectLock): void =>
  void left.set(id, { history, lock, failed: false });

/** Takes back what was held, to work on it. */
export function takeUnsaved(id: string): Unsaved | null {
  const found = left.get(id) ?? null;
  left.delete(id);
  return found;
}

/** It is saved after all: lets go of it, unless somebody has taken it back. */
export function letGo(id: string, lock: ProjectLock): void {
  if (left.get(id)?.lock !== lock) return;
  left.delete(id);
  lock.release();
}

/** It could not be saved: is said from now on, and tried again and again until somebody takes it back. */
export function keepTrying(id: string, lock: ProjectLock): void {
  const held = left.get(id);
  if (held?.lock !== lock) return;
  left.set(id, { ...held, failed: true });
  setTimeout(() => {
    if (left.get(id)?.lock !== lock) return;
    saveProject(held.history).then(
      () => letGo(id, lock),
      () => keepTrying(id, lock),
    );
  }, AGAIN_MS);
}

/** The projects of which something could not be saved. */
export const allUnsaved = (): readonly History[] =>
  [...left.values()].filter(({ failed }) => failed).map(({ history }) => history);

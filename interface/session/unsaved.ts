import type { History } from '@/core/programme/history';
import type { ProjectLock } from './projectLock';

/** What of a project could not be kept when its page was left; nobody else works on it meanwhile. */
interface Unsaved {
  readonly history: History;
  readonly lock: ProjectLock;
}

const left = new Map<string, Unsaved>();

/** Holds on to what could not be kept, as long as this page is not reloaded. */
export const holdUnsaved = (id: string, unsaved: Unsaved): void => void left.set(id, unsaved);

/** Takes back what was held. */
export function takeUnsaved(id: string): Unsaved | null {
  const found = left.get(id) ?? null;
  left.delete(id);
  return found;
}

/** The projects of which something could not be kept. */
export const allUnsaved = (): readonly History[] => [...left.values()].map(({ history }) => history);

/** Held by every tab that brings sound in. */
const LOCK = 'dengung brings sound in';

/** Does something that stores sound before a project names it; other tabs can tell. */
export const whileBringingIn = <T>(work: () => Promise<T>): Promise<T> =>
  typeof navigator !== 'undefined' && navigator.locks
    ? (navigator.locks.request(LOCK, { mode: 'shared' }, work) as Promise<T>)
    : work();

/** Whether sound is being brought in, in any tab: what no project names yet must not be taken for a leftover then. */
export async function isBroughtIn(): Promise<boolean> {
  if (!navigator.locks) return false;
  const { held = [], pending = [] } = await navigator.locks.query();
  return [...held, ...pending].some(({ name }) => name === LOCK);
}

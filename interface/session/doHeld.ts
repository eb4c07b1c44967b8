import type { HeldChange } from '@/core/programme/heldChange';
import type { Step } from '@/core/programme/history';
import type { Project } from '@/core/programme/model';
import type { Session } from './session';

/** By how much each step of a burst has changed gains so far, dB. */
const totals = new WeakMap<Step, number>();

/**
 * Changes gains together by as much as all of them can follow: the step is named for what was done, and who stopped it is told.
 * @param name of the step, for its change in all, dB, and the last part of that
 */
export function doHeld(
  session: Session,
  { db, stopped }: HeldChange,
  name: (totalDb: number, db: number) => string,
  edit: (project: Project, db: number) => Project,
  merge: string | null = null,
): void {
  if (db !== 0) {
    const { past, future } = session.state.history;
    const last = past.at(-1);
    const goesOn = merge !== null && last?.merge === merge && future.length === 0;
    const total = db + (goesOn ? (totals.get(last) ?? 0) : 0);
    session.do(name(total, db), (project) => edit(project, db), merge);
    const step = session.state.history.past.at(-1);
    if (step) totals.set(step, total);
  }
  if (stopped !== null) session.notes.tell(stopped);
  else session.notes.clear('done');
}

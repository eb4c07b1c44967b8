import type { HeldChange } from '@/core/programme/heldChange';
import type { Project } from '@/core/programme/model';
import type { Session } from './session';

/**
 * Changes gains together by as much as all of them can follow: the step is named for what was done, and who stopped it is told.
 * @param name of the step, for a change in dB
 */
export function doHeld(
  session: Session,
  { db, stopped }: HeldChange,
  name: (db: number) => string,
  edit: (project: Project, db: number) => Project,
  merge: string | null = null,
): void {
  if (db !== 0) session.do(name(db), (project) => edit(project, db), merge);
  if (stopped !== null) session.notes.tell(stopped);
  else session.notes.clear('done');
}

import type { CurveOwner } from '@/core/programme/edits/points';
import type { Session } from '../../session/session';

/** Opens the sheet in which the gain of something is ridden. */
export function openRide(session: Session, owner: CurveOwner): void {
  session.riding.setUp({ owner });
  session.stage?.ride();
}

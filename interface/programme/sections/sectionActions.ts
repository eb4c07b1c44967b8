import {
  changeSections,
  editSections,
  type SectionChange,
  type SectionEdit,
} from '@/core/programme/edits/sections';
import { heldParts } from '@/core/programme/heldChange';
import type { Clip, Project } from '@/core/programme/model';
import type { FrameRange } from '@/core/programme/sections';
import { count } from '@/core/text/words';
import { doHeld } from '../../session/doHeld';
import type { Session } from '../../session/session';
import { gainText } from '../clipLevel';
import { viewNow } from '../viewSettings';

/** The ramps that are asked for, frames. */
const rampFrames = ({ sampleRate }: Project): number => viewNow().rampSeconds * sampleRate;

const who = (clips: readonly Clip[]): string =>
  clips.length === 1 ? clips[0]!.name : count(clips.length, 'clip');

function nameOf(change: SectionChange, clips: readonly Clip[]): string {
  if (change.kind === 'silence') return `Silence a part of ${who(clips)}`;
  if (change.kind === 'fade') return `Fade ${change.way} a part of ${who(clips)}`;
  if (change.kind === 'even') return `Remove the gain of a part of ${who(clips)}`;
  if (change.kind === 'set') return `Set a part of ${who(clips)} to ${gainText(change.db)}`;
  return `${change.db < 0 ? 'Lower' : 'Raise'} a part of ${who(clips)} by ${gainText(Math.abs(change.db)).replace('+', '')}`;
}

/** Does one thing to the part of each clip that a range covers, as one step. */
export function changePart(
  session: Session,
  clips: readonly Clip[],
  range: FrameRange,
  change: SectionChange,
  merge: string | null = null,
): void {
  const ids = new Set(clips.map(({ id }) => id));
  const edit = (project: Project, given: SectionChange): Project =>
    changeSections(project, range, ({ id }) => (ids.has(id) ? given : null), rampFrames(project));
  if (change.kind !== 'change')
    return session.do(nameOf(change, clips), (project) => edit(project, change), merge);
  const { project } = session;
  doHeld(
    session,
    heldParts(project, ids, range, rampFrames(project), change.db),
    (db) => nameOf({ ...change, db }, clips),
    (state, db) => edit(state, { ...change, db }),
    merge,
  );
}

/** The programme with parts changed, by the ramps that are asked for. */
export const withParts = (project: Project, edits: readonly SectionEdit[]): Project =>
  editSections(project, edits, rampFrames(project));

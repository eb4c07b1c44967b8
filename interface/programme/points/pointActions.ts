import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { clearCurves } from '@/core/programme/edits/sections';
import { changeGain } from '@/core/programme/edits/gain';
import {
  copyPoints,
  curveOwnedBy,
  movePoints,
  ownerName,
  pastePoints,
  removePoints,
  setPoint,
  shapeSegments,
  type CopiedPoints,
  type CurveOwner,
} from '@/core/programme/edits/points';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import { heldPoints } from '@/core/programme/heldChange';
import type { Clip, SegmentShape } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { doHeld } from '../../session/doHeld';
import type { Session } from '../../session/session';
import type { SelectedPoints } from '../../session/state';
import { gainText } from '../clipLevel';

/** What a clip's own points lie on. */
export const ownerOf = (clip: Clip): CurveOwner => ({ kind: 'clip', id: clip.id });

const who = (clips: readonly Clip[]): string =>
  clips.length === 1 ? clips[0]!.name : count(clips.length, 'clip');

const nameOf = (session: Session, owner: CurveOwner): string => ownerName(session.project, owner);

/** Sets a point where it is said, on the line, and selects it. @param at see `SelectedPoints` */
export function addPoint(session: Session, owner: CurveOwner, at: number): void {
  const place = Math.round(at);
  session.do(`Add a point to ${nameOf(session, owner)}`, (project) => setPoint(project, owner, place));
  session.selectPoints(owner, [place]);
}

/** Takes points out. */
export function deletePoints(session: Session, owner: CurveOwner, places: ReadonlySet<number>): void {
  session.do(`Remove ${count(places.size, 'point')} of ${nameOf(session, owner)}`, (project) =>
    removePoints(project, owner, places),
  );
}

/** The points that keys act on: those that are selected, of the clip that is, of a track or of the programme. */
export function selectedPoints({ state }: Session): SelectedPoints | null {
  const { points, selection } = state;
  return points && (points.owner.kind !== 'clip' || selection.has(points.owner.id)) ? points : null;
}

/** Raises or lowers points together: as far as the first of them can go. */
export function raisePoints(
  session: Session,
  owner: CurveOwner,
  places: ReadonlySet<number>,
  db: number,
  merge: string | null = null,
): void {
  const name = nameOf(session, owner);
  doHeld(
    session,
    heldPoints(name, curveOwnedBy(session.project, owner), places, db),
    (by) => `Change ${count(places.size, 'point')} of ${name} by ${gainText(by)}`,
    (project, by) => movePoints(project, owner, places, { frames: 0, db: by }),
    merge,
  );
}

/** Moves one point to a place and a level. */
export function putPoint(
  session: Session,
  owner: CurveOwner,
  at: number,
  to: { at: number; db: number },
): void {
  const point = curveOwnedBy(session.project, owner).find((one) => one.at === at);
  if (!point) return;
  session.do(`Move a point of ${nameOf(session, owner)}`, (project) =>
    movePoints(project, owner, new Set([at]), { frames: to.at - at, db: to.db - point.db }),
  );
}

/** Says how the segments that begin at points go. */
export function shapePoints(
  session: Session,
  owner: CurveOwner,
  places: ReadonlySet<number>,
  shape: SegmentShape | undefined,
): void {
  session.do(`Shape ${count(places.size, 'segment')} of ${nameOf(session, owner)}`, (project) =>
    shapeSegments(project, owner, places, shape),
  );
}

/** Points that were copied last: they can be put on other clips, in other projects too. */
const copied = createStore<{ points: CopiedPoints | null }>(() => ({ points: null }));

/** How many points can be pasted. */
export const useCopiedPoints = (): number => useStore(copied, ({ points }) => points?.points.length ?? 0);

export function copyClipPoints(clip: Clip, places: ReadonlySet<number> | null): void {
  copied.setState({ points: copyPoints(clip, places ?? undefined) });
}

/** @param scaled to the length of each clip */
export function pasteOnClips(session: Session, clips: readonly Clip[], scaled: boolean): void {
  const { points } = copied.getState();
  if (!points) return;
  session.do(`Paste ${count(points.points.length, 'point')} to ${who(clips)}`, (project) =>
    pastePoints(project, new Set(clips.map(({ id }) => id)), points, scaled),
  );
}

/** What gain a clip keeps when its curve is turned off. */
export type GainLeft = 'none' | 'playhead' | 'mean';

/** Takes the curve off a clip. @param at frame of its source under the playhead @param meanDb what the curve did to its loudness; `null` while that is not measured */
export function turnCurveOff(
  session: Session,
  clip: Clip,
  keep: GainLeft,
  at: number,
  meanDb: number | null,
): void {
  const curve = curveOwnedBy(session.project, ownerOf(clip));
  const db = keep === 'none' ? 0 : keep === 'mean' ? (meanDb ?? 0) : curveDbAt(curve, at);
  const ids = new Set([clip.id]);
  const words =
    keep === 'none' || db <= SILENT_DB ? 'clip gain as it is' : `clip gain ${gainText(db)} to make up`;
  session.do(`Remove the gain curve of ${clip.name}, ${words}`, (project) => {
    const flat = clearCurves(project, ids);
    return db === 0 || db <= SILENT_DB ? flat : changeGain(flat, ids, { kind: 'change', db });
  });
}

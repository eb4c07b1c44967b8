import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import { clearCurves } from '@/core/programme/edits/sections';
import { changeGain } from '@/core/programme/edits/gain';
import {
  copyPoints,
  curveOwnedBy,
  movePoints,
  pastePoints,
  removePoints,
  setPoint,
  shapeSegments,
  type CopiedPoints,
} from '@/core/programme/edits/points';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import { heldPoints } from '@/core/programme/heldChange';
import type { Clip, SegmentShape } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { doHeld } from '../../session/doHeld';
import type { Session } from '../../session/session';
import { gainText } from '../clipLevel';

const ownerOf = (clip: Clip) => ({ kind: 'clip', id: clip.id }) as const;

const who = (clips: readonly Clip[]): string =>
  clips.length === 1 ? clips[0]!.name : count(clips.length, 'clip');

/** Sets a point where it is said, on the line, and selects it. @param at frame of the clip's source */
export function addPoint(session: Session, clip: Clip, at: number): void {
  const place = Math.round(at);
  session.do(`Add a point to ${clip.name}`, (project) => setPoint(project, ownerOf(clip), place));
  session.selectPoints(clip.id, [place]);
}

/** Takes points out. */
export function deletePoints(session: Session, clip: Clip, places: ReadonlySet<number>): void {
  session.do(`Remove ${count(places.size, 'point')} of ${clip.name}`, (project) =>
    removePoints(project, ownerOf(clip), places),
  );
}

/** The points that keys act on: those that are selected, of the clip that is. */
export function selectedPoints(session: Session): { clip: Clip; places: ReadonlySet<number> } | null {
  const { points, selection } = session.state;
  const clip = points && session.project.clips.find(({ id }) => id === points.clipId);
  return clip && selection.has(clip.id) ? { clip, places: points.places } : null;
}

/** Raises or lowers points together: as far as the first of them can go. */
export function raisePoints(
  session: Session,
  clip: Clip,
  places: ReadonlySet<number>,
  db: number,
  merge: string | null = null,
): void {
  doHeld(
    session,
    heldPoints(clip, places, db),
    (by) => `Change ${count(places.size, 'point')} of ${clip.name} by ${gainText(by)}`,
    (project, by) => movePoints(project, ownerOf(clip), places, { frames: 0, db: by }),
    merge,
  );
}

/** Moves one point to a place and a level. */
export function putPoint(session: Session, clip: Clip, at: number, to: { at: number; db: number }): void {
  const point = clip.curve.find((one) => one.at === at);
  if (!point) return;
  session.do(`Move a point of ${clip.name}`, (project) =>
    movePoints(project, ownerOf(clip), new Set([at]), { frames: to.at - at, db: to.db - point.db }),
  );
}

/** Says how the segments that begin at points go. */
export function shapePoints(
  session: Session,
  clip: Clip,
  places: ReadonlySet<number>,
  shape: SegmentShape | undefined,
): void {
  session.do(`Shape ${count(places.size, 'segment')} of ${clip.name}`, (project) =>
    shapeSegments(project, ownerOf(clip), places, shape),
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

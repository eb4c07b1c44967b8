import { roomOf, type GainRoom } from '../clipGain';
import { curveDbAt, curveDifference, curveOf, heldDb, SILENT_DB } from '../curve';
import { PART_GAIN } from '../gainField';
import type { Clip, CurvePoint, Id, Project, SegmentShape } from '../model';

/** What a gain curve lies on. */
export type CurveOwner =
  | { readonly kind: 'clip'; readonly id: Id }
  | { readonly kind: 'track'; readonly id: Id }
  | { readonly kind: 'programme' };

const NONE: readonly CurvePoint[] = [];

export const sameOwner = (a: CurveOwner, b: CurveOwner): boolean =>
  a.kind === b.kind && (a.kind === 'programme' || a.id === (b as { readonly id: Id }).id);

/** What something with a curve is called in a sentence. */
export function ownerName(project: Project, owner: CurveOwner): string {
  if (owner.kind === 'programme') return 'the programme';
  const all = owner.kind === 'clip' ? project.clips : project.tracks;
  const name = all.find(({ id }) => id === owner.id)?.name ?? '';
  return owner.kind === 'track' ? `track ${name}` : name;
}

/** The gain curve of something; empty where it is gone. */
export function curveOwnedBy(project: Project, owner: CurveOwner): readonly CurvePoint[] {
  if (owner.kind === 'programme') return project.curve;
  const all = owner.kind === 'clip' ? project.clips : project.tracks;
  return all.find(({ id }) => id === owner.id)?.curve ?? NONE;
}

/** Gives something another curve. What changes nothing is left out of it, points that were set aside: those stay. */
function withCurve(project: Project, owner: CurveOwner, curve: readonly CurvePoint[]): Project {
  if (curveDifference(curveOwnedBy(project, owner), curve) === null) return project;
  if (owner.kind === 'programme') return { ...project, curve };
  const changed = <T extends { readonly id: Id }>(all: readonly T[]): T[] =>
    all.map((one) => (one.id === owner.id ? { ...one, curve } : one));
  return owner.kind === 'clip'
    ? { ...project, clips: changed(project.clips) }
    : { ...project, tracks: changed(project.tracks) };
}

/** Gives something a curve that was worked out or ridden. */
export const setCurve = withCurve;

/** In order, one in each place: the last that was put there. Points that lie on the line stay: somebody set them. */
function inPlace(points: readonly CurvePoint[]): readonly CurvePoint[] {
  const byPlace = new Map(points.map((point) => [point.at, { ...point, db: heldDb(point.db) }]));
  const sorted = [...byPlace.values()].sort((a, b) => a.at - b.at);
  return sorted;
}

/** Sets a point, in place of one that is there. @param db where the curve is there when left out */
export function setPoint(project: Project, owner: CurveOwner, at: number, db?: number): Project {
  const curve = curveOwnedBy(project, owner);
  const place = Math.round(at);
  const there = curve.find((point) => point.at === place);
  const point = { ...there, at: place, db: db ?? curveDbAt(curve, place) };
  return withCurve(project, owner, inPlace([...curve, point]));
}

/** Which points of a curve are meant, by their places. */
export type PointPlaces = ReadonlySet<number>;

/** How far points can go up and down together, dB, and earlier and later, frames: none passes a point that stays. */
export interface PointRoom extends GainRoom {
  readonly minFrames: number;
  readonly maxFrames: number;
}

export function pointRoom(curve: readonly CurvePoint[], places: PointPlaces): PointRoom {
  const levels = curve.flatMap(({ at, db }) => (places.has(at) && db > SILENT_DB ? [db] : []));
  const { minDb, maxDb } = roomOf(levels, PART_GAIN);
  let [minFrames, maxFrames] = [-Infinity, Infinity];
  curve.forEach(({ at }, i) => {
    const next = curve[i + 1];
    if (!next || places.has(at) === places.has(next.at)) return;
    const between = next.at - at - 1;
    if (places.has(at)) maxFrames = Math.min(maxFrames, between);
    else minFrames = Math.max(minFrames, -between);
  });
  return { minDb: Math.min(0, minDb), maxDb: Math.max(0, maxDb), minFrames, maxFrames };
}

/** Moves points together, in time and in level; what is silent stays so. All stop where the first of them has to. */
export function movePoints(
  project: Project,
  owner: CurveOwner,
  places: PointPlaces,
  by: { readonly frames: number; readonly db: number },
): Project {
  const curve = curveOwnedBy(project, owner);
  const room = pointRoom(curve, places);
  const frames = Math.round(Math.min(room.maxFrames, Math.max(room.minFrames, by.frames)));
  const db = Math.min(room.maxDb, Math.max(room.minDb, by.db));
  const moved = curve.map((point) =>
    places.has(point.at)
      ? { ...point, at: point.at + frames, db: point.db <= SILENT_DB ? point.db : point.db + db }
      : point,
  );
  return withCurve(project, owner, inPlace(moved));
}

/** Takes points out; the rest of the curve goes straight past them. */
export function removePoints(project: Project, owner: CurveOwner, places: PointPlaces): Project {
  const left = curveOwnedBy(project, owner).filter(({ at }) => !places.has(at));
  return withCurve(project, owner, left.every(({ db }) => db === 0) ? [] : left);
}

/** Says how the segments go that begin at these points. @param shape straight when left out */
export function shapeSegments(
  project: Project,
  owner: CurveOwner,
  places: PointPlaces,
  shape?: SegmentShape,
): Project {
  const curve = curveOwnedBy(project, owner).map(({ shape: before, ...point }): CurvePoint => {
    const next = places.has(point.at) ? shape : before;
    return next ? { ...point, shape: next } : point;
  });
  return withCurve(project, owner, curve);
}

/** Points to be put elsewhere, by their distance from the first place that was copied. */
export interface CopiedPoints {
  readonly points: readonly CurvePoint[];
  /** How long the clip was that they came from, frames. */
  readonly length: number;
}

/** Copies points of a clip. @param places all of them when left out */
export function copyPoints({ curve, sourceStart, length }: Clip, places?: PointPlaces): CopiedPoints {
  const some = places ? curve.filter(({ at }) => places.has(at)) : curve;
  return { points: some.map((point) => ({ ...point, at: point.at - sourceStart })), length };
}

/**
 * Puts copied points on clips: each from its own start, over what its curve was from their first to their last.
 * @param scaled to the length of each clip
 */
export function pastePoints(
  project: Project,
  clipIds: ReadonlySet<Id>,
  { points, length }: CopiedPoints,
  scaled: boolean,
): Project {
  if (points.length === 0) return project;
  return {
    ...project,
    clips: project.clips.map((clip) => {
      if (!clipIds.has(clip.id)) return clip;
      const factor = scaled ? clip.length / length : 1;
      const put = points.map((point) => ({ ...point, at: clip.sourceStart + Math.round(point.at * factor) }));
      const [from, to] = [put[0]!.at, put.at(-1)!.at];
      const others = clip.curve.filter(({ at }) => at < from || at > to);
      return { ...clip, curve: curveOf([...others, ...put]) };
    }),
  };
}

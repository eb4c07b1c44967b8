import { bisector } from 'd3-array';
import { PART_GAIN } from './gainField';
import type { Clip, CurvePoint } from './model';

/** How far a curve goes up and down, dB; further down there is only silence. */
const { min: MIN_CURVE_DB } = PART_GAIN;
const MAX_CURVE_DB = PART_GAIN.max;
/** A point here is silence: nothing sounds. */
export const SILENT_DB = -120;

/** A gain within what a curve can have: silence, or as near as a curve comes. */
export const heldDb = (db: number): number =>
  db <= SILENT_DB ? SILENT_DB : Math.min(MAX_CURVE_DB, Math.max(MIN_CURVE_DB, db));

/** A slice of a curve, frames of the source. */
export interface CurveSpan {
  readonly from: number;
  readonly to: number;
}

/** The first point after a place: its index, the number of points when none is. */
export const pointAfter: (curve: readonly CurvePoint[], at: number) => number = bisector(
  ({ at }: CurvePoint) => at,
).right;

/**
 * What a curve gives at a place, dB: straight in dB from point to point, the same before its first and after its last.
 * @param at frame of the source
 */
export function curveDbAt(curve: readonly CurvePoint[], at: number): number {
  const index = pointAfter(curve, at);
  const before = curve[index - 1];
  const after = curve[index];
  if (!before) return after?.db ?? 0;
  if (!after || before.at === at) return before.db;
  return before.db + ((after.db - before.db) * (at - before.at)) / (after.at - before.at);
}

/** The same without the points that change nothing; none at all where it is flat at 0 dB. */
export function simplified(points: readonly CurvePoint[]): readonly CurvePoint[] {
  const kept: CurvePoint[] = [];
  points.forEach((point, i) => {
    const [before, after] = [kept.at(-1), points[i + 1]];
    const ends = !before ? after?.db === point.db : !after && before.db === point.db;
    // Of a flat start or end one point is enough.
    if (ends && (before !== undefined || after !== undefined)) return;
    const straight = before && after ? curveDbAt([before, after], point.at) : NaN;
    if (Math.abs(straight - point.db) < 1e-9) return;
    kept.push(point);
  });
  return kept.every(({ db }) => db === 0) ? [] : kept;
}

/** A curve of points in any order; of several in one place the last stands. */
export function curveOf(points: readonly CurvePoint[]): readonly CurvePoint[] {
  const byPlace = new Map(points.map(({ at, db }) => [at, heldDb(db)]));
  return simplified([...byPlace].map(([at, db]) => ({ at, db })).sort((a, b) => a.at - b.at));
}

/** Where two curves differ; `null` where they are the same. */
export function curveDifference(a: readonly CurvePoint[], b: readonly CurvePoint[]): CurveSpan | null {
  if (a === b) return null;
  const same = (x: CurvePoint | undefined, y: CurvePoint | undefined): boolean =>
    x !== undefined && y !== undefined && x.at === y.at && x.db === y.db;
  let first = 0;
  while (same(a[first], b[first])) first++;
  if (first === a.length && first === b.length) return null;
  let last = 0;
  const most = Math.min(a.length, b.length) - first;
  while (last < most && same(a.at(-1 - last), b.at(-1 - last))) last++;
  // Before its first point and after its last a curve is level.
  const level = (point: CurvePoint | undefined): number => point?.db ?? 0;
  const levelFrom = Math.min(a[0]?.at ?? Infinity, b[0]?.at ?? Infinity);
  const levelTo = Math.max(a.at(-1)?.at ?? -Infinity, b.at(-1)?.at ?? -Infinity);
  return {
    from: first > 0 ? a[first - 1]!.at : level(a[0]) === level(b[0]) ? levelFrom : -Infinity,
    to: last > 0 ? a.at(-last)!.at : level(a.at(-1)) === level(b.at(-1)) ? levelTo : Infinity,
  };
}

/** What a curve does within a clip: every slice in which it is not at 0 dB. */
export interface CurveSection extends CurveSpan {
  /** Where it goes furthest from 0, dB. */
  readonly db: number;
}

/** The slices of a clip in which its curve is not at 0 dB, frames of the source, in order. */
export function curveSections({ curve, sourceStart, length }: Clip): CurveSection[] {
  if (curve.length === 0) return [];
  const end = sourceStart + length;
  const edge = (at: number): CurvePoint => ({ at, db: curveDbAt(curve, at) });
  const inside = curve.filter(({ at }) => at > sourceStart && at < end);
  const points = [edge(sourceStart), ...inside, edge(end)];
  const sections: CurveSection[] = [];
  let open: CurveSection | null = null;
  points.forEach((point, i) => {
    const before = points[i - 1];
    if (!before) return;
    if (before.db === 0 && point.db === 0) return;
    const db = Math.abs(before.db) > Math.abs(point.db) ? before.db : point.db;
    if (open && open.to === before.at && before.db !== 0)
      open = { from: open.from, to: point.at, db: Math.abs(db) > Math.abs(open.db) ? db : open.db };
    else {
      if (open) sections.push(open);
      open = { from: before.at, to: point.at, db };
    }
  });
  if (open) sections.push(open);
  return sections;
}

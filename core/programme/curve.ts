import { bisector } from 'd3-array';
import { PART_GAIN } from './gainField';
import type { Clip, CurvePoint } from './model';
import { linesOf, shapedPart } from './segments';

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
export const pointAfter: (curve: readonly { readonly at: number }[], at: number) => number = bisector(
  ({ at }: { readonly at: number }) => at,
).right;

/**
 * What a curve gives at a place, dB: in dB from point to point by the shape of each segment, the same before its first and
 * after its last.
 * @param at frame of the source
 */
export function curveDbAt(curve: readonly CurvePoint[], at: number): number {
  const index = pointAfter(curve, at);
  const before = curve[index - 1];
  const after = curve[index];
  if (!before) return after?.db ?? 0;
  if (!after || before.at === at) return before.db;
  return before.db + (after.db - before.db) * shapedPart(segmentOf(before, after), at);
}

/** The segment between two points. */
export const segmentOf = (before: CurvePoint, after: CurvePoint) => ({
  from: before.at,
  to: after.at,
  shape: before.shape,
});

/**
 * The same with its eased segments as straight lines, where they reach over an edge of a range: what is changed between the
 * edges leaves the rest as it is, within 0.1 % of the height of each.
 */
export function straightAcross(
  curve: readonly CurvePoint[],
  edges: readonly number[],
): readonly CurvePoint[] {
  return curve.flatMap((point, i): CurvePoint[] => {
    const next = curve[i + 1];
    if (!point.shape || !next || !edges.some((at) => at > point.at && at < next.at)) return [point];
    const lines = linesOf(segmentOf(point, next)).map((at) => ({ at, db: curveDbAt(curve, at) }));
    return [{ at: point.at, db: point.db }, ...lines];
  });
}

/** The same with a shape only where it makes a difference: not on a level segment, nor beyond the last point. */
const withoutIdleShapes = (points: readonly CurvePoint[]): readonly CurvePoint[] =>
  points.map((point, i) => {
    if (!point.shape || (points[i + 1] && points[i + 1]!.db !== point.db)) return point;
    return { at: point.at, db: point.db };
  });

/** The same without the points that change nothing; none at all where it is flat at 0 dB. */
export function simplified(all: readonly CurvePoint[]): readonly CurvePoint[] {
  const points = withoutIdleShapes(all);
  const few: CurvePoint[] = [];
  points.forEach((point, i) => {
    const [before, after] = [few.at(-1), points[i + 1]];
    // Of a flat start one point is enough.
    if (!before && after?.db === point.db) return;
    const eased = (point.shape ?? before?.shape) !== undefined;
    const straight = before && after && !eased ? curveDbAt([before, after], point.at) : NaN;
    if (Math.abs(straight - point.db) < 1e-9) return;
    few.push(point);
  });
  // And of a flat end.
  while (few.length > 1 && few.at(-1)!.db === few.at(-2)!.db) few.pop();
  return few.every(({ db }) => db === 0) ? [] : few;
}

/** A curve of points in any order; of several in one place the last stands. */
export function curveOf(points: readonly CurvePoint[]): readonly CurvePoint[] {
  const byPlace = new Map(points.map((point) => [point.at, { ...point, db: heldDb(point.db) }]));
  return simplified([...byPlace.values()].sort((a, b) => a.at - b.at));
}

/** Where two curves differ; `null` where they are the same. */
export function curveDifference(a: readonly CurvePoint[], b: readonly CurvePoint[]): CurveSpan | null {
  if (a === b) return null;
  const same = (x: CurvePoint | undefined, y: CurvePoint | undefined): boolean =>
    x !== undefined && y !== undefined && x.at === y.at && x.db === y.db && x.shape === y.shape;
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

/** Whether a slice of a curve goes to silence or comes from it little by little: all of it but its ramps is not silent. */
export const isFaded = (curve: readonly CurvePoint[], { from, to, db }: CurveSection): boolean =>
  db <= SILENT_DB && curve.some((point) => point.at > from && point.at < to && point.db > SILENT_DB);

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

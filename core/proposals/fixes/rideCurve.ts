import { bisector } from 'd3-array';
import { curveDbAt, curveOf, SILENT_DB, straightAcross } from '@/core/programme/curve';
import type { CurvePoint } from '@/core/programme/model';

/** A point of a ride, programme frames; straight from one to the next. */
export interface RidePoint {
  readonly at: number;
  readonly db: number;
}

const placeAfter = bisector(({ at }: RidePoint) => at).right;

/** What a ride gives at a frame, dB: straight from point to point. */
export function rideDbAt(points: readonly RidePoint[], at: number): number {
  const i = placeAfter(points, at);
  const [before, after] = [points[i - 1], points[i]];
  if (!before || !after) return (before ?? after)?.db ?? 0;
  return before.db + ((after.db - before.db) * (at - before.at)) / (after.at - before.at);
}

/** A curve with a ride added to it; what is silent stays so. */
export function withRide(shaped: readonly CurvePoint[], points: readonly RidePoint[]): readonly CurvePoint[] {
  const places = points.map(({ at }) => at);
  const curve = straightAcross(shaped, places);
  const all = new Map<number, CurvePoint>(places.map((at) => [at, { at, db: curveDbAt(curve, at) }]));
  for (const point of curve) all.set(point.at, point);
  return curveOf(
    [...all.values()].map((point) =>
      point.db <= SILENT_DB ? point : { ...point, db: point.db + rideDbAt(points, point.at) },
    ),
  );
}

import { curveDbAt, curveOf, heldDb, pointAfter } from './curve';
import type { CurvePoint } from './model';

/** Where a fader stood at a place of the curve that it rides: so much over or under what the curve gives. */
export interface RideValue {
  /** As the points of that curve. */
  readonly at: number;
  /** dB. */
  readonly db: number;
}

/** Values in order of place, taken in one go. */
export type RidePass = readonly RideValue[];

/** How far a thinned ride may lie from what the hand did. */
export interface RideTolerance {
  readonly db: number;
  /** Earlier or later, ms. */
  readonly ms: number;
}

export const RIDE_TOLERANCE: RideTolerance = { db: 0.5, ms: 40 };
export const RIDE_TOLERANCES = {
  db: { name: 'Tolerance', min: 0.01, max: 6, unit: 'dB' },
  ms: { name: 'Tolerance in time', min: 0, max: 500, unit: 'ms' },
} as const;

/** How long the curve takes from the end of a pass to where it was, seconds. */
const RETURN_SECONDS = 0.1;

/** The lowest and the highest that a thinned ride may be at each value: what the hand did within the time around it, and the tolerance. */
export function rideBounds(values: RidePass, db: number, frames: number): { lo: number[]; hi: number[] } {
  let [first, last] = [0, 0];
  const lo: number[] = [];
  const hi: number[] = [];
  for (const { at } of values) {
    while (values[first]!.at < at - frames) first++;
    while (last + 1 < values.length && values[last + 1]!.at <= at + frames) last++;
    let [least, most] = [Infinity, -Infinity];
    for (let i = first; i <= last; i++) {
      least = Math.min(least, values[i]!.db);
      most = Math.max(most, values[i]!.db);
    }
    lo.push(least - db);
    hi.push(most + db);
  }
  return { lo, hi };
}

/**
 * As few points as stay within the bounds at every value: from each point as far as one straight line can go.
 * @param frames how far in time, see {@link rideBounds}
 */
export function thinned(values: RidePass, db: number, frames: number): RideValue[] {
  if (values.length < 2) return [...values];
  const { lo, hi } = rideBounds(values, db, frames);
  const points: RideValue[] = [values[0]!];
  let from = 0;
  let [least, most] = [-Infinity, Infinity];
  const end = (index: number): void => {
    const { at, db: level } = points.at(-1)!;
    const { at: to, db: wanted } = values[index]!;
    const slope = Math.min(most, Math.max(least, (wanted - level) / (to - at)));
    points.push({ at: to, db: level + slope * (to - at) });
    from = index;
    [least, most] = [-Infinity, Infinity];
  };
  for (let i = 1; i < values.length; i++) {
    for (;;) {
      const { at, db: level } = points.at(-1)!;
      const width = values[i]!.at - at;
      const steepest = Math.min(most, (hi[i]! - level) / width);
      const flattest = Math.max(least, (lo[i]! - level) / width);
      if (flattest <= steepest || from === i - 1) {
        [least, most] = flattest <= steepest ? [flattest, steepest] : [least, most];
        break;
      }
      end(i - 1);
    }
  }
  end(values.length - 1);
  return points;
}

/** What the fader did, over the curve that it rode: the curve and its own points with the fader's place on top. */
function overCurve(before: readonly CurvePoint[], pass: RidePass): RideValue[] {
  const places = new Map(pass.map((value) => [value.at, value.db]));
  const [first, last] = [pass[0]!.at, pass.at(-1)!.at];
  const riding = pass.map(({ at, db }): CurvePoint => ({ at, db }));
  for (let i = pointAfter(before, first); i < before.length && before[i]!.at < last; i++) {
    const { at } = before[i]!;
    if (!places.has(at)) places.set(at, curveDbAt(riding, at));
  }
  return [...places]
    .sort(([a], [b]) => a - b)
    .map(([at, db]) => ({ at, db: heldDb(curveDbAt(before, at) + db) }));
}

/** The raw ride, every value a point: what it is compared with. */
export const rawCurve = (
  before: readonly CurvePoint[],
  passes: readonly RidePass[],
  sampleRate: number,
): readonly CurvePoint[] => riddenCurve(before, passes, { db: 0, ms: 0 }, sampleRate);

/**
 * A curve with rides put down on it. Outside of them it stays as it was, within them it follows the hand by few points.
 * @param passes later ones stand over earlier ones
 */
export function riddenCurve(
  before: readonly CurvePoint[],
  passes: readonly RidePass[],
  { db, ms }: RideTolerance,
  sampleRate: number,
): readonly CurvePoint[] {
  return passes
    .filter((pass) => pass.length > 1)
    .reduce<readonly CurvePoint[]>((curve, pass) => {
      const points = thinned(overCurve(before, pass), db, (ms / 1000) * sampleRate);
      const [first, last] = [points[0]!.at, points.at(-1)!.at];
      const back = last + Math.round(RETURN_SECONDS * sampleRate);
      const edge = (at: number): CurvePoint => ({ at, db: curveDbAt(curve, at) });
      const outside = curve.filter(({ at }) => at < first || at > back);
      return curveOf([...outside, edge(first - 1), ...points, edge(back)]);
    }, before);
}

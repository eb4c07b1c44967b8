import { dbToPower, lufsToMeanSquare, meanSquareToLufs } from '@/core/loudness/decibels';
import { largest } from '@/core/loudness/figures';
import { integrated } from '@/core/loudness/gating';
import { loudnessRange } from '@/core/loudness/range';
import { slidingSums } from '@/core/loudness/windows';
import { curveDbAt } from '@/core/programme/curve';
import { thinned, type RideValue } from '@/core/programme/ride';

/** How a clip that goes up and down is to be evened out. */
export interface EvenRequest {
  /** Brought nearer to one loudness; or just so much that no three seconds pass a limit, or that the range is no larger than asked. */
  readonly way: 'even' | 'maxShortTerm' | 'maxRange';
  /** Where it is brought nearer to, LUFS; `null`: its own integrated loudness. */
  readonly goalLufs: number | null;
  readonly maxShortTermLufs: number;
  readonly maxRangeLu: number;
  /** How far it may be moved up or down, dB. */
  readonly rangeDb: number;
  readonly dbPerSecond: number;
  /** So far under its integrated loudness nobody speaks or plays: a pause, which is not brought up to the rest, LU. */
  readonly pauseLu: number;
  /** What is in the pauses never comes up past this, LUFS. */
  readonly floorLufs: number;
}

export const PLAIN_EVEN: EvenRequest = {
  ...{ way: 'even', goalLufs: null, maxShortTermLufs: -18, maxRangeLu: 10 },
  ...{ rangeDb: 8, dbPerSecond: 3, pauseLu: 15, floorLufs: -50 },
};

/** Hops of 100 ms in a second, in three seconds and in a gating block. */
const PER_SECOND = 10;
const SHORT_TERM = 30;
const BLOCK = 4;
/** The slow curve is thinned to points within this, dB. */
const THIN_DB = 0.2;
/** A limit counts as kept within this, LU. */
const KEPT_LU = 0.005;

/** What a clip measures with a gain in each 100 ms. */
export interface EvenFigures {
  readonly integratedLufs: number | null;
  readonly maxShortTermLufs: number | null;
  readonly rangeLu: number | null;
}

const means = (hops: Float64Array, width: number): Float64Array =>
  slidingSums(hops, width).map((sum) => sum / width);

/** @param db a gain for each 100 ms; as they are when left out */
export function evenFigures(hops: Float64Array, db?: Float64Array): EvenFigures {
  const heard = db ? hops.map((z, k) => z * dbToPower(db[k]!)) : hops;
  const shortTerm = means(heard, SHORT_TERM);
  return {
    integratedLufs: integrated(means(heard, BLOCK)).integratedLufs,
    maxShortTermLufs: shortTerm.length > 0 ? meanSquareToLufs(largest(shortTerm)) : null,
    rangeLu: loudnessRange(shortTerm),
  };
}

/** The highest curve that nowhere passes another and nowhere moves faster than so much from hop to hop. */
function under(values: Float64Array, step: number): Float64Array {
  const out = values.slice();
  for (let k = 1; k < out.length; k++) out[k] = Math.min(out[k]!, out[k - 1]! + step);
  for (let k = out.length - 2; k >= 0; k--) out[k] = Math.min(out[k]!, out[k + 1]! + step);
  return out;
}

/** Halfway between that and the lowest that nowhere falls under the other: it follows with no more than so much from hop to hop. */
function following(values: Float64Array, step: number): Float64Array {
  const low = under(values, step);
  const high = under(
    values.map((x) => -x),
    step,
  );
  return low.map((x, k) => (x - high[k]!) / 2);
}

/** Values where there are some, in between in straight lines, and on to the ends. */
function filled(values: readonly (number | null)[]): Float64Array {
  const out = new Float64Array(values.length);
  let last = -1;
  values.forEach((value, k) => {
    if (value === null) return;
    const from = last < 0 ? value : out[last]!;
    for (let i = last + 1; i <= k; i++)
      out[i] = last < 0 ? value : from + ((value - from) * (i - last)) / (k - last);
    last = k;
  });
  if (last >= 0) out.fill(out[last]!, last + 1);
  return out;
}

/** The gain that would bring each three seconds of what is no pause to the goal, as far and as fast as it may. */
function levelling(hops: Float64Array, own: number, request: EvenRequest): Float64Array {
  const { rangeDb, dbPerSecond, pauseLu, floorLufs } = request;
  const goal = request.goalLufs ?? own;
  const least = lufsToMeanSquare(own - pauseLu);
  const isPause = (k: number): boolean => {
    // Within 400 ms around it.
    let sum = 0;
    let n = 0;
    for (let i = Math.max(0, k - 2); i < Math.min(hops.length, k + 2); i++) {
      sum += hops[i]!;
      n++;
    }
    return sum / n < least;
  };
  const pauses = Array.from(hops, (_, k) => isPause(k));
  const wanted = Array.from(hops, (_, k): number | null => {
    if (pauses[k]) return null;
    let sum = 0;
    let n = 0;
    for (let i = Math.max(0, k - SHORT_TERM / 2); i < Math.min(hops.length, k + SHORT_TERM / 2); i++)
      if (!pauses[i]) {
        sum += hops[i]!;
        n++;
      }
    const lufs = meanSquareToLufs(sum / n);
    return lufs === null ? null : Math.min(rangeDb, Math.max(-rangeDb, goal - lufs));
  });
  const step = dbPerSecond / PER_SECOND;
  const follows = following(filled(wanted), step);
  const most = Float64Array.from(hops, (z, k) => {
    if (!pauses[k]) return rangeDb;
    const lufs = meanSquareToLufs(z);
    return lufs === null ? rangeDb : Math.max(0, Math.min(rangeDb, floorLufs - lufs));
  });
  const held = under(most, step);
  return follows.map((db, k) => Math.min(db, held[k]!));
}

/** The gain, never up, with which no three seconds pass a limit. */
function limiting(hops: Float64Array, request: EvenRequest): Float64Array {
  const { rangeDb, dbPerSecond, maxShortTermLufs } = request;
  const db = new Float64Array(hops.length);
  means(hops, SHORT_TERM).forEach((z, k) => {
    const over = (meanSquareToLufs(z) ?? -Infinity) - maxShortTermLufs;
    if (over <= 0) return;
    for (let i = k; i < k + SHORT_TERM; i++) db[i] = Math.min(db[i]!, -over);
  });
  return under(
    db.map((x) => Math.max(-rangeDb, x)),
    dbPerSecond / PER_SECOND,
  );
}

/** The smallest part of a curve that does, found by halving; all of it where even that does not. */
function smallestPart(db: Float64Array, does: (db: Float64Array) => boolean): Float64Array {
  const part = (factor: number): Float64Array => db.map((x) => x * factor);
  let [low, high] = [0, 1];
  if (does(part(0))) return part(0);
  for (let i = 0; i < 20; i++) {
    const middle = (low + high) / 2;
    if (does(part(middle))) high = middle;
    else low = middle;
  }
  return part(high);
}

/** A curve that was worked out: its points by seconds of the clip, and what comes of it. */
export interface Evened {
  /** Points in 100 ms from the clip’s start. */
  readonly points: readonly RideValue[];
  readonly before: EvenFigures;
  readonly after: EvenFigures;
  /** What was asked for is reached. */
  readonly reached: boolean;
}

/** Points of a gain per hop: each stands for the middle of its 100 ms. */
const pointsOf = (db: Float64Array): RideValue[] =>
  thinned(
    Array.from(db, (value, k) => ({ at: k + 0.5, db: value })),
    THIN_DB,
    0,
  );

const atHops = (points: readonly RideValue[], length: number): Float64Array =>
  Float64Array.from({ length }, (_, k) => curveDbAt(points, k + 0.5));

/**
 * Works out the slow gain that evens a clip out.
 * @param hops mean squares of each 100 ms, as it sounds without its curve
 * @returns `null` where there is nothing to measure
 */
export function evenOut(hops: Float64Array, request: EvenRequest): Evened | null {
  const before = evenFigures(hops);
  if (before.integratedLufs === null) return null;
  const { way, maxShortTermLufs, maxRangeLu } = request;
  const keeps = ({ maxShortTermLufs: most, rangeLu }: EvenFigures): boolean =>
    way === 'even' ||
    (way === 'maxShortTerm'
      ? (most ?? -Infinity) <= maxShortTermLufs + KEPT_LU
      : (rangeLu ?? 0) <= maxRangeLu + KEPT_LU);
  const does = (db: Float64Array): boolean => keeps(evenFigures(hops, atHops(pointsOf(db), hops.length)));
  // Thinned, the curve may lie a little over what is needed: the smallest part is looked for in a little more than it.
  const more = { ...request, maxShortTermLufs: maxShortTermLufs - 2 * THIN_DB };
  const all = way === 'maxShortTerm' ? limiting(hops, more) : levelling(hops, before.integratedLufs, request);
  const db = way === 'even' ? all : smallestPart(all, does);
  const points = pointsOf(db);
  const after = evenFigures(hops, atHops(points, hops.length));
  return { points, before, after, reached: keeps(after) };
}

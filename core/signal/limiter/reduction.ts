import { COARSE, type LimiterTiming, type Release } from './timing';

/** Weights over so many steps and their ends that add up to 1, rising and falling without a corner. */
function hann(steps: number): Float64Array {
  const weights = Float64Array.from(
    { length: steps + 1 },
    (_, j) => Math.sin((Math.PI * (j + 1)) / (steps + 2)) ** 2,
  );
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((weight) => weight / sum);
}

const windows = new Map<number, Float64Array>();

function hannOf(steps: number): Float64Array {
  const window = windows.get(steps) ?? hann(steps);
  windows.set(steps, window);
  return window;
}

/** Each value raised to the largest of the `steps` before it. */
function held(values: Float64Array, steps: number): Float64Array {
  const most = new Float64Array(values.length);
  /** Places of values that can still be the largest of those to come, from the largest down. */
  const places = new Int32Array(values.length);
  let [from, to] = [0, 0];
  for (let k = 0; k < values.length; k++) {
    while (to > from && values[places[to - 1]!]! <= values[k]!) to--;
    places[to++] = k;
    if (places[from]! < k - steps) from++;
    most[k] = values[places[from]!]!;
  }
  return most;
}

/** Raises each value to the largest of those before it, each by what is left of it by then: in full for a while, then down in a straight line. */
function comeBack(values: Float64Array, { hold, fall }: Release): Float64Array {
  const full = held(values, hold);
  const raised = full.slice();
  for (let k = 0; k < full.length; k++) {
    const value = full[k]!;
    // What is followed by as much or more leaves nothing that this does not.
    if (value === 0 || full[k + 1]! >= value) continue;
    const end = Math.min(fall, full.length - k);
    const step = value / fall;
    for (let j = 1, left = value - step; j < end; j++, left -= step)
      if (left > raised[k + j]!) raised[k + j] = left;
  }
  return raised;
}

/**
 * Smooths by a look-ahead without ever going under: each block takes the largest of those up to `ahead` after it, and then the
 * weighted mean of those up to `ahead` before it, each of which has seen it coming.
 */
export function seenComing(values: Float64Array, ahead: number): Float64Array {
  const most = new Float64Array(values.length);
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (value === 0) continue;
    for (let i = Math.max(0, k - ahead); i <= k; i++) if (value > most[i]!) most[i] = value;
  }
  const weights = hannOf(ahead);
  const smooth = new Float64Array(values.length);
  for (let k = 0; k < values.length; k++) {
    let sum = 0;
    for (let j = 0, end = Math.min(ahead, k); j <= end; j++) sum += weights[j]! * most[k - j]!;
    // What adds up to a hair less than a peak needs must not be less.
    smooth[k] = sum > values[k]! ? sum : values[k]!;
  }
  return smooth;
}

/** The mean of reductions so far and how it comes back, per block. @param first number of the first block: coarse ones are counted from 0 */
function slowly(
  needed: Float64Array,
  first: number,
  { release, mean }: NonNullable<LimiterTiming['slow']>,
): Float64Array {
  const from = Math.floor(first / COARSE);
  const count = Math.ceil((first + needed.length) / COARSE) - from;
  const sums = new Float64Array(count);
  const offset = first - from * COARSE;
  for (let q = 0; q < count; q++) {
    const end = Math.min(needed.length, (q + 1) * COARSE - offset);
    for (let k = Math.max(0, q * COARSE - offset); k < end; k++) sums[q]! += needed[k]!;
  }
  const means = new Float64Array(count);
  for (let q = 0; q < count; q++) {
    for (let j = Math.max(0, q - mean + 1); j <= q; j++) means[q]! += sums[j]!;
    means[q]! /= mean * COARSE;
  }
  const back = comeBack(means, release);
  // From the middle of one coarse block to that of the next; a block later, so that it draws on the past alone.
  const slow = new Float64Array(needed.length);
  for (let k = 0; k < needed.length; k++) {
    const place = (offset + k + 0.5) / COARSE - 1;
    const q = Math.floor(place);
    const a = q > 0 ? back[q - 1]! : 0;
    const b = q >= 0 ? back[q]! : 0;
    slow[k] = a + (b - a) * (place - q);
  }
  return slow;
}

/**
 * By how much the sound goes down in each block, dB: at least what every block needs, there in time, and back by the release.
 * @param needed per block, dB, at least 0
 * @param first number of the first block
 */
export function reductionOf(needed: Float64Array, first: number, timing: LimiterTiming): Float64Array {
  if (!needed.some((db) => db > 0)) return needed;
  const back = comeBack(needed, timing.release);
  if (timing.slow) {
    const slow = slowly(needed, first, timing.slow);
    for (let k = 0; k < back.length; k++) if (slow[k]! > back[k]!) back[k] = slow[k]!;
  }
  return seenComing(back, timing.lookAhead);
}

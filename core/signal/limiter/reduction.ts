import { COARSE, type LimiterTiming } from './timing';

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

/** Raises each value to the largest of those up to `release.length` before it, each by what is left of it by then. */
function comeBack(values: Float64Array, release: Float64Array): Float64Array {
  const raised = values.slice();
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (value === 0) continue;
    const end = Math.min(release.length, values.length - k);
    for (let j = 1; j < end; j++) {
      const left = value * release[j]!;
      if (left > raised[k + j]!) raised[k + j] = left;
    }
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
    for (let j = 0; j <= ahead; j++) sum += weights[j]! * (most[k - j] ?? 0);
    // What adds up to a hair less than a peak needs must not be less.
    smooth[k] = Math.max(sum, values[k]!);
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
  for (let k = 0; k < needed.length; k++) sums[Math.floor((first + k) / COARSE) - from]! += needed[k]!;
  const means = Float64Array.from(sums, (_, q) => {
    let sum = 0;
    for (let j = Math.max(0, q - mean + 1); j <= q; j++) sum += sums[j]!;
    return sum / (mean * COARSE);
  });
  const back = comeBack(means, release);
  // From the middle of one coarse block to that of the next; a block later, so that it draws on the past alone.
  return Float64Array.from(needed, (_, k) => {
    const place = (first + k + 0.5) / COARSE - from - 1;
    const q = Math.floor(place);
    const [a, b] = [back[q - 1] ?? 0, back[q] ?? 0];
    return a + (b - a) * (place - q);
  });
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

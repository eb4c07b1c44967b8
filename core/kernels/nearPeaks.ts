import { FIRST_HALVINGS, HALVING_REACH, HALVINGS } from './halfBand';
import { interpolatedPeak } from './plainPeaks';
import { GAIN_OF_HALF, GAIN_OF_MID, PAIR_0, PAIR_1 } from './truePeakTaps';
import { ALIGN, giveInstance, moduleOrNull, PAGE, takeInstance, type Exports } from './wasmModule';

/**
 * Between samples that read less than this part of a level by the standard's filter nothing comes up to the level: that
 * filter reads up to 3 dB too little of random signs.
 */
const NEAR = 0.62;
/** The same of the shorter of the two kernels. */
const NEARER = 0.75;
/** Samples that must be there before and after those that are looked at. */
export const NEAR_REACH = HALVING_REACH + 12;
/** Intervals worked out at a time. */
const CHUNK = 64;
/** Samples around a chunk whose neighbours' middles the second and third halving need. */
const AROUND = 7;
const CELL = 16;

const [CLOSEST, CLOSE] = FIRST_HALVINGS as [Float32Array, Float32Array];
const [MIDDLE, SHORT] = HALVINGS as [Float32Array, Float32Array];

/** The middle between value[at] and value[at + 1]. */
function middle(values: Float32Array, at: number, taps: Float32Array): number {
  let sum = 0;
  for (let k = 0; k < taps.length; k++) sum += taps[k]! * (values[at - k]! + values[at + 1 + k]!);
  return sum;
}

/** `count` values from values[from] on and the middle after each, alternating: twice as many. */
function halved(
  values: Float32Array,
  from: number,
  count: number,
  taps: Float32Array,
  out: Float32Array,
): void {
  for (let i = 0; i < count; i++) {
    out[2 * i] = values[from + i]!;
    out[2 * i + 1] = middle(values, from + i, taps);
  }
}

const twice = new Float32Array(2 * (CHUNK + 2 * AROUND));
const fourfold = new Float32Array(4 * (CHUNK + 6));
const eightfold = new Float32Array(8 * (CHUNK + 2));

/**
 * Raises `out` to the largest magnitude from each of `count` samples from `n` on to the next, at 8 times the rate and by parabolas
 * between.
 */
function chunkPeaks(
  x: Float32Array,
  n: number,
  count: number,
  first: Float32Array,
  out: Float32Array,
  at: number,
): void {
  halved(x, n - AROUND, count + 2 * AROUND, first, twice);
  halved(twice, 2 * (AROUND - 3), 2 * (count + 6), MIDDLE, fourfold);
  halved(fourfold, 8, 4 * (count + 2), SHORT, eightfold);
  for (let i = 0; i < count; i++) {
    let most = out[at + i]!;
    for (let j = 8 * (i + 1); j <= 8 * (i + 2); j++) {
      const size = Math.abs(eightfold[j]!);
      if (size * 1.02 < most) continue;
      const [left, right] = [Math.abs(eightfold[j - 1]!), Math.abs(eightfold[j + 1]!)];
      const bend = left - 2 * size + right;
      const top = left <= size && right <= size && bend < 0 ? size - (left - right) ** 2 / (8 * bend) : size;
      if (top > most) most = top;
    }
    out[at + i] = most;
  }
}

/** Looks closer, chunk by chunk, wherever the value of a sample or of one beside it comes up to `low`. @param values of the sample before the first on */
function lookCloser(
  x: Float32Array,
  values: Float32Array,
  low: number,
  taps: Float32Array,
  out: Float32Array,
  count: number,
): void {
  const isNear = (i: number): boolean => values[i]! >= low || values[i + 1]! >= low || values[i + 2]! >= low;
  for (let i = 0; i < count;) {
    if (!isNear(i)) {
      i++;
      continue;
    }
    const from = i;
    while (i < count && i - from < CHUNK && isNear(i)) i++;
    chunkPeaks(x, NEAR_REACH + from, i - from, taps, out, from);
  }
}

/**
 * The largest magnitude from each sample to the next, where it may come up to a level; 0 where it cannot. Found by the
 * standard's filter and with a long kernel at 8 times the rate, whichever reads more.
 * @param x samples from {@link NEAR_REACH} before the first that is looked at to as many after the last
 * @param count how many are looked at
 * @param level linear
 * @param out `count` values, linear
 * Sources: ITU-R BS.1770-5, Annex 2; for the long kernel see {@link HALVINGS}.
 */
export function plainNearPeaks(x: Float32Array, count: number, level: number, out: Float32Array): void {
  const low = level * NEAR;
  const first = NEAR_REACH;
  const standard = new Float32Array(count + 2);
  // The standard filter's outputs for sample n + 6 lie between n and n + 1.
  for (let cell = 0; cell < count + 2; cell += CELL) {
    const end = Math.min(cell + CELL, count + 2);
    let [least, greatest] = [Infinity, -Infinity];
    for (let i = first - 1 + cell - 6; i < first - 1 + end + 6; i++) {
      if (x[i]! < least) least = x[i]!;
      if (x[i]! > greatest) greatest = x[i]!;
    }
    const [mid, half] = [Math.abs(greatest + least) / 2, (greatest - least) / 2];
    if (GAIN_OF_MID * mid + GAIN_OF_HALF * half < low) continue;
    interpolatedPeak(x, first - 1 + cell + 6, first - 1 + end + 6, standard.subarray(cell, end));
  }
  for (let i = 0; i < count; i++) out[i] = standard[i + 1]!;
  lookCloser(x, standard, low, CLOSE, out, count);
  const close = new Float32Array(count + 2);
  close.set(out.subarray(0, count), 1);
  lookCloser(x, close, level * NEARER, CLOSEST, out, count);
}

/** Where each thing lies in the memory of an instance, for so many samples. */
function layOut(e: Exports, count: number) {
  let next = Math.ceil(e.heapBase() / ALIGN) * ALIGN;
  const room = (floats: number): number => {
    const at = next;
    next += Math.ceil((floats * 4) / ALIGN) * ALIGN;
    return at;
  };
  const places = {
    standardTaps: room(26),
    close: room(CLOSE.length),
    closest: room(CLOSEST.length),
    others: room(MIDDLE.length + SHORT.length),
    x: room(count + 2 * NEAR_REACH + 64),
    scratch: room(2 * (count + 64) + 2_048),
    out: room(count + 64),
  };
  const missing = next - e.memory.buffer.byteLength;
  if (missing > 0) e.memory.grow(Math.ceil(missing / PAGE));
  return places;
}

/** The same as {@link plainNearPeaks}, in WebAssembly. */
function wasmNearPeaks(
  module: WebAssembly.Module,
  x: Float32Array,
  count: number,
  level: number,
  out: Float32Array,
): void {
  const e = takeInstance(module);
  const at = layOut(e, count);
  const f32 = new Float32Array(e.memory.buffer);
  const standard = [...PAIR_0.even, ...PAIR_0.odd, ...PAIR_1.even, ...PAIR_1.odd, GAIN_OF_MID, GAIN_OF_HALF];
  f32.set(standard, at.standardTaps / 4);
  f32.set(CLOSE, at.close / 4);
  f32.set(CLOSEST, at.closest / 4);
  f32.set(MIDDLE, at.others / 4);
  f32.set(SHORT, at.others / 4 + MIDDLE.length);
  const samples = Math.min(x.length, count + 2 * NEAR_REACH);
  f32.set(x.subarray(0, samples), at.x / 4);
  // Vectors read on past the end.
  f32.fill(0, at.x / 4 + samples, at.x / 4 + samples + 32);
  e.nearPeaks(
    at.x + 4 * NEAR_REACH,
    count,
    level * NEAR,
    level * NEARER,
    at.standardTaps,
    at.close,
    CLOSE.length,
    at.closest,
    CLOSEST.length,
    at.others,
    at.scratch,
    at.out,
  );
  out.set(f32.subarray(at.out / 4, at.out / 4 + count));
  giveInstance(e);
}

/** {@link plainNearPeaks} by the fastest way that works here. */
export function nearPeaks(x: Float32Array, count: number, level: number, out: Float32Array): void {
  const compiled = moduleOrNull();
  if (compiled) wasmNearPeaks(compiled, x, count, level, out);
  else plainNearPeaks(x, count, level, out);
}

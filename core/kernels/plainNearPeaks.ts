import { FIRST_HALVINGS, HALVINGS } from './halfBand';
import {
  ALLOWANCE,
  BY_BEND,
  BY_EDGE,
  BY_SIZE,
  CELL,
  cellsBefore,
  CLOSE_EDGE,
  EDGE_BEFORE,
  EDGE_GROUP,
  EDGE_GROUPS,
  EDGE_STEP,
  EDGE_TAPS,
  NEAR_REACH,
  NEAR_STEP,
  OF_BEND,
  OF_READ,
  OF_SIZE,
  OF_TWIST,
} from './nearBounds';
import { interpolatedPeak } from './plainPeaks';

/** Intervals worked out at a time. */
const CHUNK = NEAR_STEP;
/** Samples around a chunk whose neighbours' middles the second and third halving need. */
const AROUND = 7;

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

/** Looks closer, chunk by chunk, wherever a value comes up to what its cell is looked at from. */
function lookCloser(
  x: Float32Array,
  out: Float32Array,
  count: number,
  lowOf: (cell: number) => number,
  taps: Float32Array,
): void {
  const lows = Float64Array.from({ length: Math.ceil(count / CELL) }, (_, c) => lowOf(c));
  const isNear = (i: number): boolean => out[i]! >= lows[Math.floor(i / CELL)]!;
  let i = 0;
  while (i < count) {
    const from = i;
    while (i < count && i - from < CHUNK && isNear(i)) i++;
    if (i > from) chunkPeaks(x, NEAR_REACH + from, i - from, taps, out, from);
    else i++;
  }
}

/** For every CHUNK samples, the largest of what lies close to half the sample rate as far around as it can be heard. */
function edgesOf(x: Float32Array, chunks: number): Float32Array {
  const groups = new Float32Array(chunks + EDGE_GROUPS - 1);
  for (let m = 0; m < groups.length * EDGE_GROUP; m++) {
    let sum = 0;
    for (let j = 0; j < EDGE_TAPS.length; j++)
      sum += EDGE_TAPS[j]! * (x[NEAR_REACH - EDGE_BEFORE + m * EDGE_STEP + j] ?? 0);
    const g = Math.floor(m / EDGE_GROUP);
    groups[g] = Math.max(groups[g]!, Math.abs(sum));
  }
  return Float32Array.from({ length: chunks }, (_, b) => Math.max(...groups.subarray(b, b + EDGE_GROUPS)));
}

interface Figures {
  readonly size: number;
  readonly bend: number;
  readonly twist: number;
}

/** The largest sample, second and fourth difference of a cell. @param at its first sample */
function figuresOf(x: Float32Array, at: number): Figures {
  let [size, bend, twist] = [0, 0, 0];
  const second = (i: number): number => x[i - 1]! - 2 * x[i]! + x[i + 1]!;
  for (let i = at; i < at + CELL; i++) {
    size = Math.max(size, Math.abs(x[i]!));
    bend = Math.max(bend, Math.abs(second(i)));
    twist = Math.max(twist, Math.abs(second(i - 1) - 2 * second(i) + second(i + 1)));
  }
  return { size, bend, twist };
}

const largestOf = (cells: readonly Figures[]): Figures => ({
  size: Math.max(...cells.map(({ size }) => size)),
  bend: Math.max(...cells.map(({ bend }) => bend)),
  twist: Math.max(...cells.map(({ twist }) => twist)),
});

/**
 * The largest magnitude from each sample to the next, where it may come up to a level; less than it is, or 0, where it cannot.
 * Found by the samples themselves, by the standard's filter, and with a long kernel at 8 times the rate, whichever reads more.
 * @param x samples from {@link NEAR_REACH} before the first that is looked at to as many after the last
 * @param count how many are looked at
 * @param level linear
 * @param held peaks that another one, at most so many samples before them, comes up to need not be told exactly; 0: all are
 * @param out `count` values, linear
 * Sources: ITU-R BS.1770-5, Annex 2; for the long kernel see {@link HALVINGS}.
 */
export function plainNearPeaks(
  x: Float32Array,
  count: number,
  level: number,
  held: number,
  out: Float32Array,
): void {
  const least = level * ALLOWANCE;
  const cells = Math.ceil(count / CELL);
  const edges = edgesOf(x, Math.ceil(count / CHUNK));
  const edgeOf = (c: number): number => edges[Math.floor((c * CELL) / CHUNK)]!;
  const figures = Array.from({ length: cells + 2 }, (_, c) => figuresOf(x, NEAR_REACH + (c - 1) * CELL));
  const around = Array.from({ length: cells }, (_, c) => largestOf(figures.slice(c, c + 3)));
  const most = new Float32Array(cells);
  const read = new Float32Array(CELL);
  const canReach = (c: number): boolean =>
    BY_SIZE * around[c]!.size + BY_BEND * around[c]!.bend + BY_EDGE * edgeOf(c) >= least;
  out.fill(0, 0, count);
  for (let c = 0; c < cells; c++) {
    if (!canReach(c)) continue;
    // The standard filter's outputs for sample n + 6 lie between n and n + 1.
    const at = NEAR_REACH + c * CELL;
    interpolatedPeak(x, at + 6, at + 6 + CELL, read);
    for (let i = c * CELL; i < Math.min(count, (c + 1) * CELL); i++) {
      const n = NEAR_REACH + i;
      out[i] = Math.max(read[i - c * CELL]!, Math.abs(x[n]!), Math.abs(x[n + 1]!));
      most[c] = Math.max(most[c]!, out[i]!);
    }
  }
  const before = cellsBefore(held);
  const lows = most.map((_, c) =>
    Math.max(least, ...most.subarray(Math.max(0, c - before), c).map((top) => ALLOWANCE * top)),
  );
  const lowOf = (c: number): number => {
    if (!canReach(c)) return Infinity;
    const { size, bend, twist } = around[c]!;
    const low = lows[c]! - BY_EDGE * edgeOf(c);
    return Math.max((low - OF_TWIST * twist - OF_SIZE * size) / OF_READ, low - OF_BEND * bend);
  };
  lookCloser(x, out, count, lowOf, CLOSE);
  lookCloser(x, out, count, (c) => lows[c]! - CLOSE_EDGE * edgeOf(c), CLOSEST);
}

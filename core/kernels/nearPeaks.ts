import { FIRST_HALVINGS, HALVINGS } from './halfBand';
import {
  ALLOWANCE,
  BY_BEND,
  BY_EDGE,
  BY_SIZE,
  cellsBefore,
  CLOSE_EDGE,
  EDGE_OF_BEND,
  EDGE_TAPS,
  NEAR_REACH,
  OF_BEND,
  OF_READ,
  OF_SIZE,
  OF_TWIST,
} from './nearBounds';
import { plainNearPeaks } from './plainNearPeaks';
import { PAIR_0, PAIR_1 } from './truePeakTaps';
import { ALIGN, giveInstance, growTo, moduleOrNull, takeInstance, type Exports } from './wasmModule';

const [CLOSEST, CLOSE] = FIRST_HALVINGS as [Float32Array, Float32Array];
const [MIDDLE, SHORT] = HALVINGS as [Float32Array, Float32Array];

/** As the kernel takes them. */
const BOUNDS = [
  BY_SIZE,
  BY_BEND,
  BY_EDGE,
  1 / OF_READ,
  OF_TWIST,
  OF_SIZE,
  CLOSE_EDGE,
  ALLOWANCE,
  OF_BEND,
  EDGE_OF_BEND,
];
/** Samples that whole groups can need after what is there. */
const ROUND_UP = 256;

/** Where each thing lies in the memory of an instance, for so many samples. */
function layOut(e: Exports, count: number) {
  let next = Math.ceil(e.heapBase() / ALIGN) * ALIGN;
  const room = (floats: number): number => {
    const at = next;
    next += Math.ceil((floats * 4) / ALIGN) * ALIGN;
    return at;
  };
  const places = {
    standardTaps: room(24),
    close: room(CLOSE.length),
    closest: room(CLOSEST.length),
    others: room(MIDDLE.length + SHORT.length),
    edgeTaps: room(EDGE_TAPS.length),
    bounds: room(BOUNDS.length),
    x: room(count + 2 * NEAR_REACH + ROUND_UP),
    scratch: room(count + 4_096),
    out: room(count + 64),
  };
  growTo(e, next);
  return places;
}

/** The same as {@link plainNearPeaks}, in WebAssembly. @returns where in the instance's memory the peaks are, as f32 */
function peaksIn(e: Exports, x: Float32Array, count: number, level: number, held: number): number {
  const at = layOut(e, count);
  const f32 = new Float32Array(e.memory.buffer);
  f32.set([...PAIR_0.even, ...PAIR_0.odd, ...PAIR_1.even, ...PAIR_1.odd], at.standardTaps / 4);
  f32.set(EDGE_TAPS, at.edgeTaps / 4);
  f32.set(BOUNDS, at.bounds / 4);
  f32.set(CLOSE, at.close / 4);
  f32.set(CLOSEST, at.closest / 4);
  f32.set(MIDDLE, at.others / 4);
  f32.set(SHORT, at.others / 4 + MIDDLE.length);
  const samples = Math.min(x.length, count + 2 * NEAR_REACH);
  f32.set(x.subarray(0, samples), at.x / 4);
  // Vectors and whole groups read on past the end.
  f32.fill(0, at.x / 4 + samples, at.x / 4 + count + 2 * NEAR_REACH + ROUND_UP);
  e.nearPeaks(
    at.x + 4 * NEAR_REACH,
    count,
    level * ALLOWANCE,
    cellsBefore(held),
    at.bounds,
    at.standardTaps,
    at.edgeTaps,
    at.close,
    CLOSE.length,
    at.closest,
    CLOSEST.length,
    at.others,
    at.scratch,
    at.out,
  );
  return at.out;
}

/** {@link plainNearPeaks} by the fastest way that works here. */
export function nearPeaks(
  x: Float32Array,
  count: number,
  level: number,
  held: number,
  out: Float32Array,
): void {
  const compiled = moduleOrNull();
  if (!compiled) return plainNearPeaks(x, count, level, held, out);
  const e = takeInstance(compiled);
  const at = peaksIn(e, x, count, level, held) / 4;
  out.set(new Float32Array(e.memory.buffer, 4 * at, count));
  giveInstance(e);
}

/** Blocks of samples, one after the other. */
export interface NearBlocks {
  /** Samples from the first that is looked at to the first block. */
  readonly skip: number;
  /** Samples in a block, and how many blocks there are. */
  readonly block: number;
  readonly count: number;
}

/**
 * The largest of what {@link plainNearPeaks} finds in each block, its last interval being the next one's first.
 * @param most one value a block, linear; raised where more is found
 */
export function nearBlockPeaks(
  x: Float32Array,
  { skip, block, count }: NearBlocks,
  level: number,
  held: number,
  most: Float32Array,
): void {
  const intervals = skip + count * block + 1;
  const compiled = moduleOrNull();
  if (compiled) {
    const e = takeInstance(compiled);
    const out = peaksIn(e, x, intervals, level, held);
    // What was worked on is of no use any more.
    const room = new Float32Array(e.memory.buffer, layOut(e, intervals).scratch, count);
    room.set(most);
    e.blockPeaks(out + 4 * skip, block, count, room.byteOffset);
    most.set(room);
    giveInstance(e);
    return;
  }
  const peaks = new Float32Array(intervals);
  plainNearPeaks(x, intervals, level, held, peaks);
  for (let k = 0; k < count; k++) {
    const end = skip + (k + 1) * block;
    for (let i = end - block; i <= end; i++) if (peaks[i]! > most[k]!) most[k] = peaks[i]!;
  }
}

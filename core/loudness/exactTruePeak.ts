import { besselI0 } from '@/core/audio/bessel';
import type { AudioReader } from '@/core/audio/reader';
import { interpolatedPeak } from '@/core/kernels/plainPeaks';
import { amplitudeToDb } from './decibels';
import { PEAK_SUB_BLOCKS, subBlockStart } from './subBlocks';

/** Places looked at between two samples, the first of them included. */
const FACTOR = 16;
/** Samples on each side that the interpolation draws on. */
const REACH = 160;
/** Of the Kaiser window: side lobes under −90 dB. */
const BETA = 9;
/** Blocks this much under the highest by the standard filter cannot hold the peak: −6 dB. */
const BLOCK_MARGIN = 0.5;
/** Nor can slices this much under it by the standard filter: −4 dB, as it reads up to 3 dB too little of random signs. */
const NEAR_MARGIN = 0.62;
/** Samples on either side that belong to such a slice. */
const NEAR = 1;
/** What lies between the points of a fourfold grid is at most 1/cos(π/8) over them; a little room besides. */
const GRID_MARGIN = Math.cos(Math.PI / 8) * 0.99;

/** The true peak of a sound, found with a long kernel at 16 times its rate. */
export interface ExactPeak {
  readonly truePeakDbtp: number | null;
  /** Label of the channel that has it. */
  readonly channel: string | null;
  /** Where it is, seconds. */
  readonly atSeconds: number | null;
}

/** kernel[phase]: weights of the samples from n − REACH + 1 to n + REACH for the place n + phase/FACTOR. */
function makeKernel(): readonly Float64Array[] {
  return Array.from({ length: FACTOR }, (_, phase) => {
    const at = phase / FACTOR;
    const taps = Float64Array.from({ length: 2 * REACH }, (_, i) => {
      const distance = i - REACH + 1 - at;
      const sinc = distance === 0 ? 1 : Math.sin(Math.PI * distance) / (Math.PI * distance);
      return sinc * (besselI0(BETA * Math.sqrt(Math.max(0, 1 - (distance / REACH) ** 2))) / besselI0(BETA));
    });
    // A constant stays the constant it is.
    const sum = taps.reduce((a, b) => a + b, 0);
    return taps.map((tap) => tap / sum);
  });
}

const kernel: { phases: readonly Float64Array[] | null } = { phases: null };

/** Value at n + phase/16, from samples[n − 159] to samples[n + 160]. */
function valueAt(x: Float32Array, n: number, phase: number): number {
  if (phase === 0) return x[n]!;
  const taps = (kernel.phases ??= makeKernel())[phase]!;
  const first = n - REACH + 1;
  // Four sums side by side, as one alone would wait for itself.
  let a = 0;
  let b = 0;
  let c = 0;
  let d = 0;
  for (let i = 0; i < 2 * REACH; i += 4) {
    a += taps[i]! * x[first + i]!;
    b += taps[i + 1]! * x[first + i + 1]!;
    c += taps[i + 2]! * x[first + i + 2]!;
    d += taps[i + 3]! * x[first + i + 3]!;
  }
  return a + b + (c + d);
}

interface Found {
  /** Linear. */
  value: number;
  channel: number;
  /** Frame, with its fraction. */
  at: number;
}

/** The top of a parabola through three neighbouring values of which the middle one is the largest. */
function summit(left: number, middle: number, right: number): { offset: number; value: number } {
  const bend = left - 2 * middle + right;
  if (bend >= 0) return { offset: 0, value: middle };
  const offset = (left - right) / (2 * bend);
  return { offset, value: middle - ((left - right) * offset) / 4 };
}

/** Values from a sample to the next one, both included. */
const between = new Float64Array(FACTOR + 1);

/** The largest magnitude at every fourth place from a sample to the next; these places of `between` are then filled. */
function gridPeak(x: Float32Array, n: number): number {
  let most = 0;
  for (let phase = 0; phase <= FACTOR; phase += 4) {
    between[phase] = phase === FACTOR ? x[n + 1]! : valueAt(x, n, phase);
    most = Math.max(most, Math.abs(between[phase]!));
  }
  return most;
}

/** Looks for a higher peak among samples[from..to); REACH + NEAR samples must be there on either side. */
function search(
  x: Float32Array,
  from: number,
  to: number,
  firstFrame: number,
  channel: number,
  best: Found,
): void {
  const coarse = new Float32Array(to - from + 2 * NEAR);
  // The standard filter's outputs for sample n + 6 lie between n and n + 1.
  interpolatedPeak(x, from - NEAR + 6, to + NEAR + 6, coarse);
  for (let i = 0; i < coarse.length; i++) {
    const size = Math.abs(x[from - NEAR + i]!);
    if (size > coarse[i]!) coarse[i] = size;
  }
  for (let n = from; n < to; n++) {
    const centre = n - from + NEAR;
    let near = 0;
    for (let i = centre - NEAR; i <= centre + NEAR; i++) if (coarse[i]! > near) near = coarse[i]!;
    if (near < best.value * NEAR_MARGIN) continue;
    if (gridPeak(x, n) < best.value * GRID_MARGIN) continue;
    for (let phase = 1; phase < FACTOR; phase++) if (phase % 4 !== 0) between[phase] = valueAt(x, n, phase);
    for (let phase = 0; phase < FACTOR; phase++) {
      const middle = between[phase]!;
      const value = Math.abs(middle);
      // A parabola's top lies hardly over the highest of points so close together.
      if (value < best.value * 0.995) continue;
      const sign = middle < 0 ? -1 : 1;
      const right = between[phase + 1]! * sign;
      if (right > value) continue;
      const left = (phase > 0 ? between[phase - 1]! : valueAt(x, n - 1, FACTOR - 1)) * sign;
      if (left > value) continue;
      const top = summit(left, value, right);
      if (top.value <= best.value) continue;
      best.value = top.value;
      best.channel = channel;
      best.at = firstFrame + n + (phase + top.offset) / FACTOR;
    }
  }
}

/**
 * The true peak by band-limited interpolation with 320 samples at 16 times the rate, the top between those points by a
 * parabola. Sines from 0.05 to 0.49 of the rate are read within ±0.01 dB; the standard fourfold filter reads them within
 * +0.25 and −0.7 dB.
 *
 * Only the blocks whose fourfold true peak comes within 6 dB of the highest are read again, the highest first.
 * @param truePeaks fourfold true peak of every 100 ms over all channels, linear
 * @param proceed asked between blocks with the part done (0 to 1); `false` stops
 * @param inOrder read the blocks in order of time, for what can only be read forward; a little slower
 * @returns `null` when stopped
 * Sources: ITU-R BS.1770-5, Annex 2 and its attachment 1 (the under-read); J. F. Kaiser, “Nonrecursive digital filter
 * design using the I0-sinh window function”, IEEE ISCAS 1974.
 */
export async function exactTruePeak(
  reader: AudioReader,
  truePeaks: Float32Array,
  proceed: (done: number) => boolean | Promise<boolean>,
  inOrder = false,
): Promise<ExactPeak | null> {
  const { sampleRate, frames, layout } = reader.format;
  const highest = truePeaks.reduce((a, b) => Math.max(a, b), 0);
  const blocks = Array.from(truePeaks.keys())
    .filter((k) => highest > 0 && truePeaks[k]! >= highest * BLOCK_MARGIN)
    .sort((a, b) => (inOrder ? a - b : truePeaks[b]! - truePeaks[a]!));
  const best: Found = { value: 0, channel: -1, at: 0 };
  const around = REACH + 2 * NEAR + 12;
  for (const [done, k] of blocks.entries()) {
    const start = subBlockStart(k * PEAK_SUB_BLOCKS, sampleRate);
    const end = Math.min(frames, subBlockStart((k + 1) * PEAK_SUB_BLOCKS, sampleRate));
    const samples = await reader.read(start - around, end - start + 2 * around);
    for (const [channel, x] of samples.entries()) {
      // A few samples early: the standard filter shows a peak some samples after where it is.
      search(x, around - 12, around + end - start, start - around, channel, best);
    }
    if (done % 16 === 15 && !(await proceed(done / blocks.length))) return null;
  }
  if (best.channel < 0) return { truePeakDbtp: null, channel: null, atSeconds: null };
  return {
    truePeakDbtp: amplitudeToDb(best.value),
    channel: layout.labels[best.channel]!,
    atSeconds: Math.max(0, best.at) / sampleRate,
  };
}

import { nearPeaks, NEAR_REACH } from '@/core/kernels/nearPeaks';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { reductionOf, seenComing } from './reduction';
import type { LimiterTiming } from './timing';

/** What is asked for is met with this much to spare, dB: rounding to 24 bit included. */
const CARE_DB = 0.002;

/** How often what is left over the ceiling is made good. */
const AGAIN = 1;

/** Some blocks of sound with what lies around them. */
interface Blocks {
  /** Number of the first block, and how many there are. */
  readonly first: number;
  readonly count: number;
  /** Frames in a block, and the frame of the samples at which the first begins. */
  readonly block: number;
  readonly lead: number;
}

/**
 * By how much each block would have to go down for its peaks to stay under a level, dB.
 * @param samples one array per channel; NEAR_REACH samples must lie around the blocks
 */
function neededBy(
  samples: readonly Float32Array[],
  { block, lead, count }: Blocks,
  level: number,
): Float64Array {
  const most = new Float64Array(count);
  const frames = count * block;
  const peaks = new Float32Array(frames + 1);
  for (const channel of samples) {
    // From the interval that ends at the first sample to the one that begins at the last.
    nearPeaks(channel.subarray(lead - 1 - NEAR_REACH), frames + 1, level, peaks);
    for (let k = 0; k < count; k++) {
      let peak = most[k]!;
      for (let i = k * block; i <= (k + 1) * block; i++) if (peaks[i]! > peak) peak = peaks[i]!;
      most[k] = peak;
    }
  }
  return most.map((peak) => (peak > level ? 20 * Math.log10(peak / level) : 0));
}

/** Multiplies samples by a reduction that goes straight, in amplitude, from one edge of a block to the next; in place. */
function reduce(samples: readonly Float32Array[], { block, lead }: Blocks, reduction: Float64Array): void {
  const edge = (k: number): number => Math.max(reduction[k - 1] ?? 0, reduction[k] ?? 0);
  for (let k = 0; k < reduction.length; k++) {
    const [a, b] = [edge(k), edge(k + 1)];
    if (a === 0 && b === 0) continue;
    const from = dbToAmplitude(-a);
    const step = (dbToAmplitude(-b) - from) / block;
    const at = lead + k * block;
    for (const channel of samples)
      for (let i = 0; i < block; i++) channel[at + i] = channel[at + i]! * (from + step * i);
  }
}

/**
 * Limits sound to a true peak, all channels together.
 *
 * Peaks between the samples are found, block by block; each block's reduction is there in time, and comes back slowly. As a gain that changes
 * moves peaks a little, what is left over the ceiling is found once more and made good.
 * @param samples one array per channel, with `before` and `after` of the timing around what is wanted; changed in place
 * @param at frame of what the limiter stands on at which they begin: blocks are counted from its start
 * @param ceiling linear
 * @returns by how much each block goes down, dB, and the frame of the samples at which the first of them begins; `null` where nothing had to be done
 */
export function limit(
  samples: readonly Float32Array[],
  at: number,
  ceiling: number,
  timing: LimiterTiming,
): { readonly reduction: Float64Array; readonly lead: number } | null {
  const { block, lookAhead } = timing;
  const frames = samples[0]?.length ?? 0;
  const level = ceiling * dbToAmplitude(-CARE_DB);
  const first = Math.ceil((at + NEAR_REACH + 1) / block);
  const count = Math.floor((at + frames - NEAR_REACH - 1) / block) - first;
  if (count <= 0) return null;
  const blocks: Blocks = { first, count, block, lead: first * block - at };
  const needed = neededBy(samples, blocks, level);
  const reduction = reductionOf(needed, first, timing);
  if (reduction === needed) return null;
  reduce(samples, blocks, reduction);
  for (let pass = 1; pass <= AGAIN; pass++) {
    const inner = pass * Math.ceil((NEAR_REACH + block) / block);
    const again: Blocks = {
      first: first + inner,
      count: Math.max(0, count - 2 * inner),
      block,
      lead: blocks.lead + inner * block,
    };
    const more = seenComing(neededBy(samples, again, level), Math.min(lookAhead, 4));
    reduce(samples, again, more);
    more.forEach((db, k) => (reduction[inner + k]! += db));
  }
  return { reduction, lead: blocks.lead };
}

import { NEAR_REACH, NEAR_STEP } from '@/core/kernels/nearBounds';
import { nearBlockPeaks } from '@/core/kernels/nearPeaks';
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

/** Samples around the blocks: peaks are looked for from a whole step on, so that every piece finds the same. */
const AROUND = NEAR_REACH + NEAR_STEP;

/**
 * By how much each block would have to go down for its peaks to stay under a level, dB.
 * @param samples one array per channel; AROUND samples must lie around the blocks
 * @param at frame of what the limiter stands on at which they begin
 * @param held blocks over which a reduction stays: a peak that another one holds down as far need not be told exactly
 */
function neededBy(
  samples: readonly Float32Array[],
  at: number,
  { block, lead, count }: Blocks,
  level: number,
  held: number,
): Float64Array {
  const most = new Float32Array(count);
  // From the interval that ends at the first sample to the one that begins at the last.
  const from = Math.floor((at + lead - 1) / NEAR_STEP) * NEAR_STEP - at;
  const within = { skip: lead - 1 - from, block, count };
  for (const channel of samples)
    nearBlockPeaks(channel.subarray(from - NEAR_REACH), within, level, held * block, most);
  const needed = new Float64Array(count);
  for (let k = 0; k < count; k++) if (most[k]! > level) needed[k] = 20 * Math.log10(most[k]! / level);
  return needed;
}

/** Multiplies samples by a reduction that goes straight, in amplitude, from one edge of a block to the next; in place. */
function reduce(samples: readonly Float32Array[], { block, lead }: Blocks, reduction: Float64Array): void {
  let before = 0;
  let from = 1;
  for (let k = 0; k < reduction.length; k++) {
    const here = reduction[k]!;
    const after = reduction[k + 1] ?? 0;
    const to =
      Math.max(here, after) === Math.max(before, here) ? from : dbToAmplitude(-Math.max(here, after));
    const step = (to - from) / block;
    const start = lead + k * block;
    if (from !== 1 || to !== 1)
      for (const channel of samples)
        for (let i = 0; i < block; i++) channel[start + i] = channel[start + i]! * (from + step * i);
    before = here;
    from = to;
  }
}

/** From which block to which sound has changed, or lies so close to what has that its peaks may have moved. */
function changed(reduction: Float64Array, around: number): [number, number][] {
  const parts: [number, number][] = [];
  for (let k = 0; k < reduction.length; k++) {
    if (reduction[k] === 0) continue;
    const last = parts.at(-1);
    // What lies between two that are close is looked at along with them.
    if (last && k - around <= last[1] + 2 * around) last[1] = k + 1 + around;
    else parts.push([Math.max(0, k - around), k + 1 + around]);
  }
  return parts;
}

/**
 * Limits sound to a true peak, all channels together.
 *
 * Peaks between the samples are found, block by block; each block's reduction is there in time, and comes back slowly. As a gain that changes
 * moves peaks a little, what is left over the ceiling is found once more and made good.
 * @param samples one array per channel, with `before` and `after` of the timing around what is wanted; changed in place
 * @param at frame of what the limiter stands on at which they begin: blocks are counted from its start
 * @param ceiling linear
 * @param along parts of the same sound, as long, that go down by as much; changed in place
 * @returns by how much each block goes down, dB, and the frame of the samples at which the first of them begins; `null` where nothing had to be done
 */
export function limit(
  samples: readonly Float32Array[],
  at: number,
  ceiling: number,
  timing: LimiterTiming,
  along: readonly Float32Array[] = [],
): { readonly reduction: Float64Array; readonly lead: number } | null {
  const { block, lookAhead } = timing;
  const frames = samples[0]?.length ?? 0;
  const level = ceiling * dbToAmplitude(-CARE_DB);
  const first = Math.ceil((at + AROUND + 1) / block);
  const count = Math.floor((at + frames - AROUND - 1) / block) - first;
  if (count <= 0) return null;
  const blocks: Blocks = { first, count, block, lead: first * block - at };
  const needed = neededBy(samples, at, blocks, level, timing.release.hold);
  const reduction = reductionOf(needed, first, timing);
  if (reduction === needed) return null;
  const all = [...samples, ...along];
  reduce(all, blocks, reduction);
  for (let pass = 1; pass <= AGAIN; pass++) {
    const inner = pass * Math.ceil((AROUND + block) / block);
    const left = new Float64Array(count);
    for (const [from, to] of changed(reduction, Math.ceil(AROUND / block) + 1)) {
      const start = Math.max(inner, from);
      const part = Math.min(count - inner, to) - start;
      if (part <= 0) continue;
      const again = { first: first + start, count: part, block, lead: blocks.lead + start * block };
      left.set(neededBy(samples, at, again, level, 0), start);
    }
    const more = seenComing(left, Math.min(lookAhead, 4));
    reduce(all, blocks, more);
    more.forEach((db, k) => (reduction[k]! += db));
  }
  return { reduction, lead: blocks.lead };
}

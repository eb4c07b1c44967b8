import type { TimeRange } from '@/core/loudness/levelTrack';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';

/** A run of blocks, the last not included. */
interface BlockRun {
  readonly from: number;
  readonly to: number;
}

/** What breaks a run for no longer than this does not part it, blocks of 100 ms. */
const JOIN_BLOCKS = 5;

/**
 * Runs of blocks of which something holds.
 * @param least blocks that it has to hold for in a run, gaps aside
 */
export function runsWhere(
  count: number,
  holds: (block: number) => boolean,
  least: number,
  join = JOIN_BLOCKS,
): BlockRun[] {
  const runs: { from: number; to: number; held: number }[] = [];
  for (let k = 0; k < count; k++) {
    if (!holds(k)) continue;
    const last = runs.at(-1);
    if (last && k - last.to <= join) {
      last.to = k + 1;
      last.held++;
    } else runs.push({ from: k, to: k + 1, held: 1 });
  }
  return runs.filter(({ held }) => held >= least);
}

/** Blocks of 100 ms as seconds, within the sound. */
export const blocksToSeconds = ({ from, to }: BlockRun, seconds: number): TimeRange => ({
  from: from / PEAK_BLOCKS_PER_SECOND,
  to: Math.min(seconds, to / PEAK_BLOCKS_PER_SECOND),
});

/** Seconds as whole blocks of 100 ms, at least one. */
export const secondsToBlocks = (seconds: number): number =>
  Math.max(1, Math.round(seconds * PEAK_BLOCKS_PER_SECOND));

/** Running totals: out[k] is the sum of the first k values. */
export function totals(values: ArrayLike<number>): Float64Array {
  const out = new Float64Array(values.length + 1);
  for (let k = 0; k < values.length; k++) out[k + 1] = out[k]! + values[k]!;
  return out;
}

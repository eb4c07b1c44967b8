import { SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { sideBySide } from '@/core/parallel/sideBySide';
import type { SubBlockRange } from '@/core/measuring/dirtyRanges';
import { Failed, toFailure } from './failure';
import type { Outcome } from './protocol';

/** Measured at a time by one worker: little enough to be superseded soon, enough to be worth the settling before it. */
export const PIECE = 10 * SUB_BLOCKS_PER_SECOND;

/** What another worker made; @throws what it failed with. A piece is never given up while it runs. */
export function madeBy<T>(outcome: Outcome<T>): T {
  if ('ok' in outcome) return outcome.ok;
  throw new Failed('failure' in outcome ? outcome.failure : toFailure(new Error('A piece was given up')));
}

/** A range in pieces of at most so many sub-blocks. */
export const pieces = ({ from, to }: SubBlockRange, most: number): SubBlockRange[] =>
  Array.from({ length: Math.ceil((to - from) / most) }, (_, i) => ({
    from: from + i * most,
    to: Math.min(to, from + (i + 1) * most),
  }));

/**
 * Works through pieces side by side, handing each out only while they are still wanted.
 * @param hands how many at a time
 * @returns what came of them, in order; `null` when they were given up
 */
export function eachPiece<T>(
  ranges: readonly SubBlockRange[],
  hands: number,
  wanted: () => boolean,
  run: (range: SubBlockRange) => Promise<Outcome<T>>,
  onProgress: (done: number) => void = () => undefined,
): Promise<T[] | null> {
  let done = 0;
  return sideBySide(ranges, hands, wanted, async (range) => {
    const made = madeBy(await run(range));
    onProgress(++done / ranges.length);
    return made;
  });
}

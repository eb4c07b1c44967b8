import { PEAK_BLOCKS_PER_SECOND, PEAK_SUB_BLOCKS } from '@/core/loudness/subBlocks';
import type { Id } from '@/core/programme/model';
import type { Reduction } from '@/core/signal/station';
import type { SubBlockRange } from './dirtyRanges';

/** What limiters take off, by whose they are: the most in every 100 ms in which they work, dB by the number of the block. */
export type ReductionBlocks = ReadonlyMap<Id, ReadonlyMap<number, number>>;

/** What one limiter takes off, in order of time: numbers of blocks of 100 ms, and the most in each, dB. */
export interface ReductionTrack {
  readonly blocks: Int32Array<ArrayBuffer>;
  readonly db: Float32Array<ArrayBuffer>;
}

/** Gathers what limiters tell while a range is rendered. */
export class ReductionMeter {
  private readonly all = new Map<Id, Map<number, number>>();

  constructor(private readonly sampleRate: number) {}

  /** See `LimitersTold`. */
  readonly told = (owner: Id, { from, block, db }: Reduction): void => {
    const blocks = this.all.get(owner) ?? new Map<number, number>();
    this.all.set(owner, blocks);
    db.forEach((value, k) => {
      if (value <= 0) return;
      const at = Math.floor(((from + k * block) * PEAK_BLOCKS_PER_SECOND) / this.sampleRate);
      if (at >= 0 && value > (blocks.get(at) ?? 0)) blocks.set(at, value);
    });
  };

  finish(): ReductionBlocks {
    return this.all;
  }
}

/** What limiters take off in a programme, kept up to date range by range. */
export class StandingReductions {
  private readonly all = new Map<Id, Map<number, number>>();

  /** Puts what was found in a range in place of what stood there. */
  put({ from, to }: SubBlockRange, found: ReductionBlocks): void {
    const [first, last] = [from / PEAK_SUB_BLOCKS, Math.ceil(to / PEAK_SUB_BLOCKS)];
    this.clear(first, last);
    for (const [owner, blocks] of found) {
      const standing = this.all.get(owner) ?? new Map<number, number>();
      for (const [at, db] of blocks) if (at >= first && at < last) standing.set(at, db);
      if (standing.size > 0) this.all.set(owner, standing);
    }
  }

  /** A copy that goes its own way. */
  copy(): StandingReductions {
    const copied = new StandingReductions();
    for (const [owner, blocks] of this.all) copied.all.set(owner, new Map(blocks));
    return copied;
  }

  /** Forgets what lies in blocks [first, last). */
  clear(first: number, last: number): void {
    for (const [owner, blocks] of this.all) {
      // Whichever is fewer: the blocks of the range, or those that there are.
      if (last - first > blocks.size) {
        for (const at of blocks.keys()) if (at >= first && at < last) blocks.delete(at);
      } else for (let at = first; at < last; at++) blocks.delete(at);
      if (blocks.size === 0) this.all.delete(owner);
    }
  }

  get blocks(): ReductionBlocks {
    return this.all;
  }
}

/** The same in order of time. */
export function reductionTracks(all: ReductionBlocks): Map<Id, ReductionTrack> {
  return new Map(
    [...all].map(([owner, found]) => {
      const sorted = [...found].sort(([a], [b]) => a - b);
      const blocks = Int32Array.from(sorted, ([at]) => at);
      return [owner, { blocks, db: Float32Array.from(sorted, ([, db]) => db) }];
    }),
  );
}

import type { Limiter } from '@/core/programme/model';
import { NEAR_REACH, NEAR_STEP } from '@/core/kernels/nearBounds';

/** Gains are worked out once per block of about so long, seconds, and go straight from block to block. */
const BLOCK_SECONDS = 1 / 3000;
/** How long a reduction stays after the peak that needed it, ms: half a period of the lowest note, so that it does not follow the wave itself. */
const HOLD_MS = 25;
/** With automatic release: how fast a short reduction comes back, over how long reductions are averaged, how fast their mean comes back, ms. */
const FAST_MS = 90;
const MEAN_MS = 250;
const SLOW_MS = 700;
/** Blocks over which the mean is taken at a time. */
export const COARSE = 16;

/** What is left of a reduction: all of it for `hold` steps after the peak that needed it, then less and less, nothing after `fall` more. */
export interface Release {
  readonly hold: number;
  readonly fall: number;
}

/** A limiter's times in blocks. */
export interface LimiterTiming {
  /** Frames in a block. Blocks are counted from frame 0 of what it stands on. */
  readonly block: number;
  readonly lookAhead: number;
  readonly release: Release;
  /** The same for the mean of reductions, by coarse blocks, and over how many of them it is taken; `null` without one. */
  readonly slow: { readonly release: Release; readonly mean: number } | null;
  /** Frames it needs before and after. */
  readonly before: number;
  readonly after: number;
}

const known = new Map<string, LimiterTiming>();

export function limiterTiming(
  { lookAheadMs, releaseMs }: Pick<Limiter, 'lookAheadMs' | 'releaseMs'>,
  sampleRate: number,
): LimiterTiming {
  const key = `${lookAheadMs}/${releaseMs}/${sampleRate}`;
  const timing = known.get(key) ?? makeTiming(lookAheadMs, releaseMs, sampleRate);
  if (known.size > 100) known.clear();
  known.set(key, timing);
  return timing;
}

function makeTiming(lookAheadMs: number, releaseMs: number | null, sampleRate: number): LimiterTiming {
  const block = Math.max(1, Math.round(sampleRate * BLOCK_SECONDS));
  const blocks = (ms: number): number => Math.max(1, Math.round((ms * sampleRate) / 1000 / block));
  const coarse = (ms: number): number => Math.max(1, Math.round(blocks(ms) / COARSE));
  const lookAhead = blocks(lookAheadMs);
  const release = { hold: blocks(HOLD_MS), fall: blocks(releaseMs ?? FAST_MS) };
  const slow =
    releaseMs === null ? { release: { hold: 1, fall: coarse(SLOW_MS) }, mean: coarse(MEAN_MS) } : null;
  const length = ({ hold, fall }: Release): number => hold + fall;
  // What a peak is held over by another is told from the hold before it.
  const back =
    release.hold + Math.max(length(release), slow ? (length(slow.release) + slow.mean + 3) * COARSE : 0);
  // Twice the look-ahead and the kernel's reach: once for the limiting, once for making good what is left of it.
  const around = 3 * (NEAR_REACH + NEAR_STEP) + 6 * block;
  return {
    ...{ block, lookAhead, release, slow },
    before: (back + 4 * lookAhead) * block + around,
    after: 4 * lookAhead * block + around,
  };
}

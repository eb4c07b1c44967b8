import type { Kernel } from '@/core/kernels/kernel';
import { OVERVIEW_BIN } from '@/core/kernels/kernel';
import type { ChunkListener } from '@/core/loudness/meter';

/** How many bins of one level make one of the next. */
const STEP = 8;
const LEVELS = 4;
/** Bins of the finest level kept: more than two hours at 48 kHz; longer sounds do without their finest levels. */
const MOST_BINS = 1_500_000;

/** Lowest and highest sample of every bin, over all channels, linear: an over is never lost by looking from afar. */
export interface OverviewLevel {
  readonly framesPerBin: number;
  readonly low: Float32Array;
  readonly high: Float32Array;
}

/** A waveform at several resolutions, finest first. */
export interface Overview {
  readonly levels: readonly OverviewLevel[];
}

/** The finest level of a slice of a signal; bins count from the signal's start. */
export interface OverviewPart {
  readonly firstBin: number;
  readonly low: Float32Array;
  readonly high: Float32Array;
}

function coarser(level: OverviewLevel): OverviewLevel {
  const count = Math.ceil(level.low.length / STEP);
  const low = new Float32Array(count);
  const high = new Float32Array(count);
  for (let bin = 0; bin < count; bin++) {
    let least = Infinity;
    let most = -Infinity;
    const end = Math.min(level.low.length, (bin + 1) * STEP);
    for (let i = bin * STEP; i < end; i++) {
      least = Math.min(least, level.low[i]!);
      most = Math.max(most, level.high[i]!);
    }
    low[bin] = least;
    high[bin] = most;
  }
  return { framesPerBin: level.framesPerBin * STEP, low, high };
}

/** Builds the finest level of a slice, chunk by chunk. */
export class OverviewBuilder implements ChunkListener {
  private readonly firstBin: number;
  private low: Float32Array;
  private high: Float32Array;
  private end: number;

  /** @param start first frame of the slice */
  constructor(start = 0) {
    this.firstBin = Math.floor(start / OVERVIEW_BIN);
    this.low = new Float32Array(1024);
    this.high = new Float32Array(1024);
    this.end = start;
  }

  chunk(kernel: Kernel, start: number, frames: number): void {
    this.end = start + frames;
    const bins = Math.ceil(this.end / OVERVIEW_BIN) - this.firstBin;
    if (bins > this.low.length) {
      const grow = (old: Float32Array): Float32Array => {
        const larger = new Float32Array(Math.ceil(bins * 1.5));
        larger.set(old);
        return larger;
      };
      this.low = grow(this.low);
      this.high = grow(this.high);
    }
    const bin = Math.floor(start / OVERVIEW_BIN);
    kernel.extremes(frames, (bin + 1) * OVERVIEW_BIN - start, this.low, this.high, bin - this.firstBin);
  }

  part(): OverviewPart {
    const bins = Math.ceil(this.end / OVERVIEW_BIN) - this.firstBin;
    return { firstBin: this.firstBin, low: this.low.slice(0, bins), high: this.high.slice(0, bins) };
  }
}

/** Joins the parts of a signal; neighbours may share a bin. */
export function joinOverview(parts: readonly OverviewPart[], frames: number): Overview {
  const bins = Math.ceil(frames / OVERVIEW_BIN);
  const low = new Float32Array(bins);
  const high = new Float32Array(bins);
  for (const part of parts) {
    const shared = part.firstBin;
    const [lowBefore, highBefore] = [low[shared] ?? 0, high[shared] ?? 0];
    low.set(part.low.subarray(0, bins - shared), shared);
    high.set(part.high.subarray(0, bins - shared), shared);
    if (shared < bins) {
      low[shared] = Math.min(low[shared]!, lowBefore);
      high[shared] = Math.max(high[shared]!, highBefore);
    }
  }
  const levels: OverviewLevel[] = [{ framesPerBin: OVERVIEW_BIN, low, high }];
  while (levels.length < LEVELS) levels.push(coarser(levels.at(-1)!));
  while (levels.length > 1 && levels[0]!.low.length > MOST_BINS) levels.shift();
  return { levels };
}

/** The coarsest level that still has at least one bin per `framesPerPixel`. */
export function levelFor(overview: Overview, framesPerPixel: number): OverviewLevel {
  return overview.levels.findLast((level) => level.framesPerBin <= framesPerPixel) ?? overview.levels[0]!;
}

import { decodeInto, type SampleEncoding } from '@/core/audio/pcm';
import { KFilter } from '@/core/loudness/kWeighting';
import {
  KERNEL_HISTORY,
  OVERVIEW_BIN,
  type ChannelMeasures,
  type ChannelPeaks,
  type ChunkGrid,
  type Kernel,
  type PairProducts,
  type PairSums,
} from './kernel';
import { blockPeaks } from './plainPeaks';

/** The reference: plain TypeScript, double precision throughout. */
export class PlainKernel implements Kernel {
  readonly kind = 'plain';
  private readonly buffers: Float32Array[];
  private readonly filters: KFilter[];

  constructor(
    sampleRate: number,
    readonly channels: number,
    readonly capacity: number,
  ) {
    this.buffers = Array.from(
      { length: channels },
      () => new Float32Array(KERNEL_HISTORY + capacity + KERNEL_HISTORY),
    );
    this.filters = this.buffers.map(() => new KFilter(sampleRate));
  }

  samples(channel: number): Float32Array {
    return this.buffers[channel]!;
  }

  decode(bytes: Uint8Array, encoding: SampleEncoding, frames: number, at: number): number {
    return decodeInto(bytes, encoding, frames, this.buffers, KERNEL_HISTORY + at);
  }

  settle(frames: number): void {
    this.filters.forEach((filter, c) =>
      filter.energy(this.buffers[c]!, KERNEL_HISTORY, KERNEL_HISTORY + frames),
    );
  }

  measure({ subBlocks, peakBlocks }: ChunkGrid): ChannelMeasures[] {
    return this.peaks(peakBlocks).map((peaks, c) => ({
      ...peaks,
      energy: Float64Array.from(subBlocks, (end, k) =>
        this.filters[c]!.energy(
          this.buffers[c]!,
          KERNEL_HISTORY + (subBlocks[k - 1] ?? 0),
          KERNEL_HISTORY + end,
        ),
      ),
    }));
  }

  products(subBlocks: readonly number[]): PairProducts[] {
    const frames = subBlocks.at(-1) ?? 0;
    const weighted = this.buffers.map((samples, c) =>
      this.filters[c]!.weigh(samples, KERNEL_HISTORY, KERNEL_HISTORY + frames),
    );
    const sums = (a: Float64Array, b: Float64Array): Float64Array =>
      Float64Array.from(subBlocks, (end, k) => {
        let sum = 0;
        for (let i = subBlocks[k - 1] ?? 0; i < end; i++) sum += a[i]! * b[i]!;
        return sum;
      });
    return Array.from({ length: this.channels / 2 }, (_, pair) => {
      const [a, b] = [weighted[2 * pair]!, weighted[2 * pair + 1]!];
      return { aa: sums(a, a), bb: sums(b, b), ab: sums(a, b) };
    });
  }

  peaks(peakBlocks: readonly number[]): ChannelPeaks[] {
    return this.buffers.map((samples) => {
      const peaks = peakBlocks.map((end, k) =>
        blockPeaks(samples, KERNEL_HISTORY + (peakBlocks[k - 1] ?? 0), KERNEL_HISTORY + end),
      );
      return {
        truePeak: Float32Array.from(peaks, (found) => found.truePeak),
        samplePeak: Float32Array.from(peaks, (found) => found.samplePeak),
        silentCells: Int32Array.from(peaks, (found) => found.silentCells),
      };
    });
  }

  sharpest(channel: number, first: number, ends: Int32Array): Float32Array {
    const samples = this.buffers[channel]!;
    let at = first;
    return Float32Array.from(ends, (end) => {
      let most = 0;
      for (; at < end; at++) {
        const i = KERNEL_HISTORY + at;
        const middle = samples[i - 1]!;
        const turn = Math.fround(Math.fround(samples[i]! - middle) + Math.fround(samples[i - 2]! - middle));
        most = Math.max(most, Math.abs(turn));
      }
      return most;
    });
  }

  sums(a: number, b: number, from: number, to: number): PairSums {
    const [x, y] = [this.buffers[a]!, this.buffers[b]!];
    const sums: [number, number, number, number, number] = [0, 0, 0, 0, 0];
    for (let i = KERNEL_HISTORY + from; i < KERNEL_HISTORY + to; i++) {
      sums[0] += x[i]!;
      sums[1] += y[i]!;
      sums[2] += x[i]! * x[i]!;
      sums[3] += y[i]! * y[i]!;
      sums[4] += x[i]! * y[i]!;
    }
    return sums;
  }

  extremes(frames: number, firstLength: number, low: Float32Array, high: Float32Array, bin: number): void {
    for (const samples of this.buffers) {
      let at = bin;
      let end = Math.min(frames, firstLength);
      for (let i = 0; i < frames; at++) {
        for (; i < end; i++) {
          const x = samples[KERNEL_HISTORY + i]!;
          if (x < low[at]!) low[at] = x;
          if (x > high[at]!) high[at] = x;
        }
        end = Math.min(frames, end + OVERVIEW_BIN);
      }
    }
  }

  advance(frames: number): void {
    for (const samples of this.buffers) samples.copyWithin(0, frames, frames + KERNEL_HISTORY);
  }

  release(): void {
    // Plain arrays go by themselves.
  }
}

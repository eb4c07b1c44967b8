import type { SampleEncoding } from '@/core/audio/pcm';

/** Samples of what came before that a kernel keeps in front of each chunk. */
export const KERNEL_HISTORY = 16;

/** Cells of a chunk at most: see `Kernel.sharpest`. */
export const MOST_CELLS = 2_048;

/** Frames of one overview bin. */
export const OVERVIEW_BIN = 256;

/** The peaks of a chunk of one channel. */
export interface ChannelPeaks {
  /** Linear, per peak block. */
  readonly truePeak: Float32Array;
  readonly samplePeak: Float32Array;
  /** Per peak block: how many of its cells of 16 samples hold nothing but zeros; an upper bound on digital silence. */
  readonly silentCells: Int32Array;
}

/** What a chunk of one channel measures. */
export interface ChannelMeasures extends ChannelPeaks {
  /** Sum of squares of the K-weighted samples, per sub-block. */
  readonly energy: Float64Array;
}

/** Sums over the K-weighted samples of a pair of channels a and b, per sub-block. */
export interface PairProducts {
  readonly aa: Float64Array;
  readonly bb: Float64Array;
  readonly ab: Float64Array;
}

/** Where the blocks of a chunk end, in frames from its start. */
export interface ChunkGrid {
  readonly subBlocks: readonly number[];
  /** The last may end up to `KERNEL_HISTORY` frames after the chunk. */
  readonly peakBlocks: readonly number[];
}

/** Sums over two channels of a chunk: a, b, a², b², a·b. */
export type PairSums = readonly [a: number, b: number, aa: number, bb: number, ab: number];

/**
 * The arithmetic over samples, chunk by chunk. There are two that agree: one in WebAssembly, and a plain one that is the
 * reference in the tests and serves where WebAssembly has no vectors.
 *
 * Samples of the chunk in hand are written to {@link samples} (by {@link decode}, or from outside), measured, and then
 * {@link advance} makes the last of them the history of the next chunk.
 */
export interface Kernel {
  readonly kind: 'wasm' | 'plain';
  readonly channels: number;
  /** Frames a chunk can have. */
  readonly capacity: number;
  /**
   * The chunk in hand of one channel: `KERNEL_HISTORY` samples of what came before, `capacity` samples, and room for
   * `KERNEL_HISTORY` more in which the true-peak filter rings out.
   */
  samples(channel: number): Float32Array;
  /**
   * Interleaved bytes to planar samples, full scale = 1, at frame `at` of the chunk.
   * @param frames whole frames in `bytes`; `at + frames` may not pass the capacity
   * @returns how many samples were NaN or infinite; they become silence
   */
  decode(bytes: Uint8Array, encoding: SampleEncoding, frames: number, at: number): number;
  /** Runs the K-weighting over the first `frames` frames without keeping anything, to let it settle. */
  settle(frames: number): void;
  /** K-weights the first frames of the chunk and finds the peaks of its blocks. */
  measure(grid: ChunkGrid): readonly ChannelMeasures[];
  /** K-weights the first frames of the chunk, channels 0 and 1 as a pair, 2 and 3, and so on; their number is even. */
  products(subBlocks: readonly number[]): readonly PairProducts[];
  /** Finds the peaks of the chunk's blocks. */
  peaks(peakBlocks: readonly number[]): readonly ChannelPeaks[];
  /**
   * The largest second difference of the samples within each of some cells of a channel’s chunk, which follow each other.
   * @param first frames at the start that are left out
   * @param ends where each cell ends, at most {@link MOST_CELLS} of them
   * @returns to be read before the next call
   */
  sharpest(channel: number, first: number, ends: Int32Array): Float32Array;
  /** See {@link PairSums}, over frames [from, to) of the chunk. */
  sums(a: number, b: number, from: number, to: number): PairSums;
  /**
   * Lowest and highest sample over all channels in bins, merged into what `low` and `high` hold at `bin`.
   * @param firstLength frames of the first bin; all others take `OVERVIEW_BIN`
   */
  extremes(frames: number, firstLength: number, low: Float32Array, high: Float32Array, bin: number): void;
  /** Makes the last samples before `frames` the history of the next chunk. */
  advance(frames: number): void;
  /** Gives its memory to the next kernel. It may not be used any more, and nothing that it has given out may be read. */
  release(): void;
}

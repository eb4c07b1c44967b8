import type { SampleEncoding } from '@/core/audio/pcm';
import { kWeighting, type Biquad } from '@/core/loudness/kWeighting';
import {
  KERNEL_HISTORY,
  MOST_CELLS,
  OVERVIEW_BIN,
  type ChannelMeasures,
  type ChannelPeaks,
  type ChunkGrid,
  type Kernel,
  type PairProducts,
  type PairSums,
} from './kernel';
import {
  ALIGN,
  aligned,
  decodeWith,
  giveInstance,
  growTo,
  moduleOrNull,
  takeInstance,
  WIDEST,
  type Exports,
  type Weigh,
} from './wasmModule';
import { GAIN_OF_BEND, GAIN_OF_HALF, GAIN_OF_MID, GAIN_OF_SIZE, PAIR_0, PAIR_1 } from './truePeakTaps';

/** Bytes of a peak block's answer, of a pair's filter state, and of a sub-block's two energies and their product. */
const PEAK_ANSWER = 16;
const PAIR_STATE = 64;
const PAIR_ENERGY = 24;
/** Most sub-blocks and peak blocks in a chunk. */
const MAX_BLOCKS = 128;

const scaled = ({ b0, b1, b2, a1, a2 }: Biquad): number[] => [b1 / b0 - a1, b2 / b0 - a2, -a1, -a2];

/** Kernels in WebAssembly with vectors; everything they touch lies in the memory of one instance. */
export class WasmKernel implements Kernel {
  readonly kind = 'wasm';
  private readonly exports: Exports;
  private readonly base: {
    readonly bytes: number;
    readonly samples: number;
    readonly subEnds: number;
    readonly peakEnds: number;
    readonly k: number;
    readonly state: number;
    readonly energy: number;
    readonly taps: number;
    readonly gains: number;
    readonly bounds: number;
    readonly peaks: number;
    readonly low: number;
    readonly high: number;
    readonly sums: number;
    readonly cellEnds: number;
    readonly cells: number;
  };
  /** Bytes from one channel's samples to the next one's. */
  private readonly stride: number;
  private readonly byteRoom: number;
  private readonly energyScale: number;
  private readonly views: Float32Array[];
  private readonly f32: Float32Array;
  private readonly f64: Float64Array;
  private readonly i32: Int32Array;
  private readonly u8: Uint8Array;

  private constructor(
    module: WebAssembly.Module,
    sampleRate: number,
    readonly channels: number,
    readonly capacity: number,
  ) {
    this.exports = takeInstance(module);
    const heap = aligned(this.exports.heapBase());
    let next = heap;
    const room = (bytes: number): number => {
      const at = next;
      next += aligned(bytes);
      return at;
    };
    this.byteRoom = capacity * channels * WIDEST;
    // A block may end up to 63 samples after the chunk when the filter rings out, and vectors read on past it.
    this.stride = aligned((KERNEL_HISTORY + capacity + 80) * 4);
    const pairs = Math.ceil(channels / 2);
    const bins = Math.ceil(capacity / OVERVIEW_BIN) + 2;
    this.base = {
      // Vectors read some bytes before and after the input.
      bytes: room(ALIGN + this.byteRoom + ALIGN) + ALIGN,
      samples: room(this.stride * channels),
      subEnds: room(4 * MAX_BLOCKS),
      peakEnds: room(4 * MAX_BLOCKS),
      k: room(64),
      state: room(PAIR_STATE * pairs),
      energy: room(PAIR_ENERGY * MAX_BLOCKS),
      taps: room(96),
      gains: room(16),
      bounds: room(4 * (Math.ceil(capacity / 16) + 16)),
      peaks: room(PEAK_ANSWER * MAX_BLOCKS),
      low: room(4 * bins),
      high: room(4 * bins),
      sums: room(40),
      cellEnds: room(4 * MOST_CELLS),
      cells: room(4 * MOST_CELLS),
    };
    const { memory } = this.exports;
    growTo(this.exports, next);
    this.f32 = new Float32Array(memory.buffer);
    this.f64 = new Float64Array(memory.buffer);
    this.i32 = new Int32Array(memory.buffer);
    this.u8 = new Uint8Array(memory.buffer);
    this.u8.fill(0, heap, next);
    this.views = Array.from(
      { length: channels },
      (_, c) =>
        new Float32Array(
          memory.buffer,
          this.base.samples + c * this.stride,
          KERNEL_HISTORY + capacity + KERNEL_HISTORY,
        ),
    );
    const { shelf, highPass } = kWeighting(sampleRate);
    this.f64.set([...scaled(shelf), ...scaled(highPass)], this.base.k / 8);
    this.energyScale = (shelf.b0 * highPass.b0) ** 2;
    this.f32.set([...PAIR_0.even, ...PAIR_0.odd, ...PAIR_1.even, ...PAIR_1.odd], this.base.taps / 4);
    this.f32.set([GAIN_OF_MID, GAIN_OF_HALF, GAIN_OF_SIZE, GAIN_OF_BEND], this.base.gains / 4);
  }

  /** @returns `null` where WebAssembly or its vectors are missing */
  static create(sampleRate: number, channels: number, capacity: number): WasmKernel | null {
    const compiled = moduleOrNull();
    return compiled && new WasmKernel(compiled, sampleRate, channels, capacity);
  }

  samples(channel: number): Float32Array {
    return this.views[channel]!;
  }

  private at(channel: number, frame = 0): number {
    return this.base.samples + channel * this.stride + (KERNEL_HISTORY + frame) * 4;
  }

  decode(bytes: Uint8Array, encoding: SampleEncoding, frames: number, at: number): number {
    const { bytes: src } = this.base;
    this.u8.set(bytes.subarray(0, frames * (encoding.bits / 8) * this.channels), src);
    return decodeWith(this.exports, encoding, src, this.channels, frames, this.at(0, at), this.stride);
  }

  /** The second channel of a pair; the last of an odd number stands beside itself. */
  private partner(channel: number): number {
    return Math.min(channel + 1, this.channels - 1);
  }

  private weigh(run: Weigh, channel: number, blocks: number): void {
    const { k, state, energy, subEnds } = this.base;
    const pairState = state + (channel / 2) * PAIR_STATE;
    run(this.at(channel), this.at(this.partner(channel)), subEnds, blocks, k, pairState, energy);
  }

  settle(frames: number): void {
    this.i32[this.base.subEnds / 4] = frames;
    for (let c = 0; c < this.channels; c += 2) this.weigh(this.exports.weigh, c, 1);
  }

  private putEnds(at: number, ends: readonly number[]): void {
    if (ends.length > MAX_BLOCKS) throw new RangeError(`A chunk has at most ${MAX_BLOCKS} blocks`);
    this.i32.set(ends, at / 4);
  }

  measure({ subBlocks, peakBlocks }: ChunkGrid): ChannelMeasures[] {
    this.putEnds(this.base.subEnds, subBlocks);
    const energies: Float64Array[] = [];
    const word = this.base.energy / 8;
    for (let c = 0; c < this.channels; c += 2) {
      this.weigh(this.exports.weigh, c, subBlocks.length);
      for (const lane of [0, 1]) {
        energies.push(
          Float64Array.from(subBlocks, (_, k) => this.f64[word + 2 * k + lane]! * this.energyScale),
        );
      }
    }
    return this.peaks(peakBlocks).map((peaks, c) => ({ ...peaks, energy: energies[c]! }));
  }

  products(subBlocks: readonly number[]): PairProducts[] {
    this.putEnds(this.base.subEnds, subBlocks);
    const word = this.base.energy / 8;
    return Array.from({ length: this.channels / 2 }, (_, pair) => {
      this.weigh(this.exports.weighBoth, 2 * pair, subBlocks.length);
      const sums = (which: number): Float64Array =>
        Float64Array.from(subBlocks, (_end, k) => this.f64[word + 3 * k + which]! * this.energyScale);
      return { aa: sums(0), bb: sums(1), ab: sums(2) };
    });
  }

  peaks(peakBlocks: readonly number[]): ChannelPeaks[] {
    const { peakEnds, taps, gains, bounds, peaks } = this.base;
    this.putEnds(peakEnds, peakBlocks);
    return this.views.map((_, c) => {
      this.exports.peaks(this.at(c), peakEnds, peakBlocks.length, taps, gains, bounds, peaks);
      const word = peaks / 4;
      return {
        truePeak: Float32Array.from(peakBlocks, (_end, k) => this.f32[word + 4 * k]!),
        samplePeak: Float32Array.from(peakBlocks, (_end, k) => this.f32[word + 4 * k + 1]!),
        silentCells: Int32Array.from(peakBlocks, (_end, k) => this.i32[word + 4 * k + 2]!),
      };
    });
  }

  sharpest(channel: number, first: number, ends: Int32Array): Float32Array {
    if (ends.length > MOST_CELLS) throw new RangeError(`A chunk has at most ${MOST_CELLS} cells`);
    const { cellEnds, cells } = this.base;
    this.i32.set(ends, cellEnds / 4);
    this.exports.sharpestOf(this.at(channel), first, cellEnds, ends.length, cells);
    return this.f32.subarray(cells / 4, cells / 4 + ends.length);
  }

  sums(a: number, b: number, from: number, to: number): PairSums {
    const word = this.base.sums / 8;
    this.f64.fill(0, word, word + 5);
    this.exports.sums(this.at(a, from), this.at(b, from), to - from, this.base.sums);
    return [...this.f64.subarray(word, word + 5)] as unknown as PairSums;
  }

  extremes(frames: number, firstLength: number, low: Float32Array, high: Float32Array, bin: number): void {
    const bins = 1 + Math.ceil(Math.max(0, frames - firstLength) / OVERVIEW_BIN);
    const [lowAt, highAt] = [this.base.low / 4, this.base.high / 4];
    this.f32.set(low.subarray(bin, bin + bins), lowAt);
    this.f32.set(high.subarray(bin, bin + bins), highAt);
    for (let c = 0; c < this.channels; c++) {
      this.exports.extremes(this.at(c), frames, firstLength, OVERVIEW_BIN, this.base.low, this.base.high);
    }
    low.set(this.f32.subarray(lowAt, lowAt + bins), bin);
    high.set(this.f32.subarray(highAt, highAt + bins), bin);
  }

  advance(frames: number): void {
    for (const samples of this.views) samples.copyWithin(0, frames, frames + KERNEL_HISTORY);
  }

  release(): void {
    // Without its views, whoever goes on using it fails instead of disturbing the next one.
    this.views.length = 0;
    giveInstance(this.exports);
  }
}

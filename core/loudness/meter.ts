import type { Layout } from '@/core/audio/layout';
import type { SampleEncoding } from '@/core/audio/pcm';
import { bytesPerSample } from '@/core/audio/pcm';
import { KERNEL_HISTORY, type ChannelMeasures, type Kernel } from '@/core/kernels/kernel';
import { newKernel } from '@/core/kernels/newKernel';
import { emptyHistory, PEAK_SUB_BLOCKS, subBlockStart, type SubBlockHistory } from './subBlocks';

/** Frames a chunk has at most, unless a single peak block is longer, and peak blocks at most: a second at 48 kHz. */
const CHUNK_FRAMES = 48_000;
const CHUNK_BLOCKS = 10;

/** Looks at each chunk while its samples are at hand. */
export interface ChunkListener {
  /**
   * @param start frame of the signal at which the chunk begins
   * @param frames how many there are
   * @param peakEnds where its peak blocks end, frames from `start`
   */
  chunk(
    kernel: Kernel,
    start: number,
    frames: number,
    peakEnds: readonly number[],
    measures: readonly ChannelMeasures[],
  ): void;
}

/** A list of numbers that grows. */
class Growing<T extends Float32Array | Float64Array> {
  length = 0;

  constructor(
    private array: T,
    private readonly make: (length: number) => T,
  ) {}

  append(values: T): void {
    if (this.length + values.length > this.array.length) {
      const larger = this.make(Math.ceil((this.length + values.length) * 1.5));
      larger.set(this.array.subarray(0, this.length));
      this.array = larger;
    }
    this.array.set(values, this.length);
    this.length += values.length;
  }

  /** Raises the last value to at least this one. */
  raiseLast(value: number): void {
    if (this.length > 0) this.array[this.length - 1] = Math.max(this.array[this.length - 1]!, value);
  }

  copyTo(target: T, at: number): void {
    const count = Math.max(0, Math.min(this.length, target.length - at));
    target.set(this.array.subarray(0, count), at);
  }
}

const floats = () => new Growing(new Float32Array(256), (length) => new Float32Array(length));
const doubles = () => new Growing(new Float64Array(1024), (length) => new Float64Array(length));

interface Options {
  /** Where on the grid of sub-blocks measuring begins: a whole number of peak blocks; 0 for a whole signal. */
  readonly firstSubBlock?: number;
  readonly listeners?: readonly ChunkListener[];
  /** Makes the kernel; the fastest one that works here when left out. */
  readonly kernel?: (sampleRate: number, channels: number, capacity: number) => Kernel;
}

/**
 * Measures a signal piece by piece: K-weighted energy per channel and 20 ms sub-block, sample peak and true peak per
 * channel and 100 ms. Memory grows by the sub-block history only.
 * Source: ITU-R BS.1770-5, Annexes 1 and 2.
 */
export class LoudnessMeter {
  private readonly kernel: Kernel;
  private readonly listeners: readonly ChunkListener[];
  private readonly energy: Growing<Float64Array>[];
  private readonly truePeak: Growing<Float32Array>[];
  private readonly samplePeak: Growing<Float32Array>[];
  private readonly firstSubBlock: number;
  private readonly blocksPerChunk: number;
  /** First sub-block of the chunk in hand, its first frame, and how many frames it will have and has. */
  private subBlock: number;
  private chunkStart: number;
  private chunkFrames = 0;
  private filled = 0;
  /** Samples met so far that were NaN or infinite; they were measured as silence. */
  notFinite = 0;

  /** @param sampleRate Hz */
  constructor(
    readonly layout: Layout,
    readonly sampleRate: number,
    { firstSubBlock = 0, listeners = [], kernel = newKernel }: Options = {},
  ) {
    if (firstSubBlock % PEAK_SUB_BLOCKS !== 0)
      throw new RangeError(`Sub-block ${firstSubBlock} begins no peak block`);
    const channels = layout.labels.length;
    const peakBlock = sampleRate / 10;
    this.blocksPerChunk = Math.max(1, Math.min(CHUNK_BLOCKS, Math.floor(CHUNK_FRAMES / peakBlock)));
    this.kernel = kernel(sampleRate, channels, Math.ceil(this.blocksPerChunk * peakBlock) + 1);
    this.listeners = listeners;
    this.energy = layout.labels.map(doubles);
    this.truePeak = layout.labels.map(floats);
    this.samplePeak = layout.labels.map(floats);
    this.firstSubBlock = firstSubBlock;
    this.subBlock = firstSubBlock;
    this.chunkStart = subBlockStart(firstSubBlock, sampleRate);
    this.beginChunk();
  }

  private beginChunk(): void {
    const end = this.subBlock + this.blocksPerChunk * PEAK_SUB_BLOCKS;
    this.chunkFrames = subBlockStart(end, this.sampleRate) - this.chunkStart;
    this.filled = 0;
  }

  private check(chunk: readonly Float32Array[]): void {
    if (chunk.length !== this.kernel.channels) {
      throw new RangeError(`${chunk.length} channels given, ${this.kernel.channels} expected`);
    }
  }

  private put(chunk: readonly Float32Array[], from: number, to: number, at: number): void {
    chunk.forEach((samples, c) =>
      this.kernel.samples(c).set(samples.subarray(from, to), KERNEL_HISTORY + at),
    );
  }

  /** Lets the filters settle on what comes before the first sub-block. Call before {@link push}. */
  settle(chunk: readonly Float32Array[]): void {
    this.check(chunk);
    const frames = chunk[0]?.length ?? 0;
    for (let done = 0; done < frames;) {
      const take = Math.min(frames - done, this.kernel.capacity);
      this.put(chunk, done, done + take, 0);
      this.kernel.settle(take);
      this.kernel.advance(take);
      done += take;
    }
  }

  /** The same from interleaved bytes. */
  settleBytes(bytes: Uint8Array, encoding: SampleEncoding): void {
    const stride = bytesPerSample(encoding) * this.kernel.channels;
    const frames = Math.floor(bytes.length / stride);
    for (let done = 0; done < frames;) {
      const take = Math.min(frames - done, this.kernel.capacity);
      this.kernel.decode(bytes.subarray(done * stride), encoding, take, 0);
      this.kernel.settle(take);
      this.kernel.advance(take);
      done += take;
    }
  }

  /**
   * Takes the next frames.
   * @param chunk one array per channel of the layout, full scale = 1
   */
  push(chunk: readonly Float32Array[]): void {
    this.check(chunk);
    this.take(chunk[0]?.length ?? 0, (done, take) => this.put(chunk, done, done + take, this.filled));
  }

  /** Takes the next frames as interleaved bytes; a last incomplete frame is left out. */
  pushBytes(bytes: Uint8Array, encoding: SampleEncoding): void {
    const stride = bytesPerSample(encoding) * this.kernel.channels;
    this.take(Math.floor(bytes.length / stride), (done, take) => {
      this.notFinite += this.kernel.decode(bytes.subarray(done * stride), encoding, take, this.filled);
    });
  }

  private take(frames: number, bring: (done: number, take: number) => void): void {
    for (let done = 0; done < frames;) {
      const take = Math.min(frames - done, this.chunkFrames - this.filled);
      bring(done, take);
      this.filled += take;
      done += take;
      if (this.filled === this.chunkFrames) this.flush();
    }
  }

  /** Where the blocks of the chunk in hand end, `step` sub-blocks at a time; the last may be incomplete. */
  private ends(step: number): number[] {
    const ends: number[] = [];
    for (let k = this.subBlock + step; (ends.at(-1) ?? 0) < this.filled; k += step) {
      ends.push(Math.min(subBlockStart(k, this.sampleRate) - this.chunkStart, this.filled));
    }
    return ends;
  }

  /** Measures what is at hand. Unless it ends with a peak block, nothing can follow. */
  private flush(): void {
    if (this.filled === 0) return;
    const subBlocks = this.ends(1);
    const peakBlocks = this.ends(PEAK_SUB_BLOCKS);
    const measures = this.kernel.measure({ subBlocks, peakBlocks });
    measures.forEach(({ energy, truePeak, samplePeak }, c) => {
      this.energy[c]!.append(energy);
      this.truePeak[c]!.append(truePeak);
      this.samplePeak[c]!.append(samplePeak);
    });
    for (const listener of this.listeners) {
      listener.chunk(this.kernel, this.chunkStart, this.filled, peakBlocks, measures);
    }
    this.kernel.advance(this.filled);
    this.subBlock += subBlocks.length;
    this.chunkStart += this.filled;
    this.beginChunk();
  }

  /** Ends the signal: the true-peak filter rings on past it, and what it finds there belongs to the last block. */
  ringOut(): void {
    this.flush();
    for (let c = 0; c < this.kernel.channels; c++) {
      this.kernel.samples(c).fill(0, KERNEL_HISTORY, 2 * KERNEL_HISTORY);
    }
    this.kernel
      .measure({ subBlocks: [], peakBlocks: [KERNEL_HISTORY] })
      .forEach(({ truePeak }, c) => this.truePeak[c]!.raiseLast(truePeak[0]!));
  }

  /** The history of a whole signal, measured from its start to its end. */
  finish(): SubBlockHistory {
    this.ringOut();
    const history = emptyHistory(this.layout, this.sampleRate, this.chunkStart);
    this.copyTo(history);
    return history;
  }

  /** Writes what is measured so far into a history that covers more, from sub-block `at` on. */
  copyTo(history: SubBlockHistory, at = this.firstSubBlock): void {
    this.flush();
    for (let c = 0; c < this.kernel.channels; c++) {
      this.energy[c]!.copyTo(history.energy[c]!, at);
      this.truePeak[c]!.copyTo(history.truePeak[c]!, at / PEAK_SUB_BLOCKS);
      this.samplePeak[c]!.copyTo(history.samplePeak[c]!, at / PEAK_SUB_BLOCKS);
    }
  }

  /** Gives its kernel back, after what was measured has been copied. It may not be used any more. */
  release(): void {
    this.kernel.release();
  }
}

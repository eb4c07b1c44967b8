import type { MixMatrix } from '@/core/audio/mixMatrix';
import { decodeInto, decodePcm, type SampleEncoding } from '@/core/audio/pcm';
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
} from './wasmModule';

/** Sums signals into the channels of a programme, in single precision. Two kinds agree to the bit. */
export interface Mixer {
  readonly kind: 'wasm' | 'plain';
  readonly channels: number;
  /**
   * Adds planar samples × matrix × gain from frame `at` on.
   * @param samples one array per incoming channel; `at` + their length may not pass the mixer's frames
   */
  add(samples: readonly Float32Array[], at: number, matrix: MixMatrix, gain: number): void;
  /** The same from interleaved bytes. */
  addBytes(
    bytes: Uint8Array,
    encoding: SampleEncoding,
    frames: number,
    at: number,
    matrix: MixMatrix,
    gain: number,
  ): void;
  /** The sum, one array per channel, and the end of the mixer. */
  finish(): Float32Array[];
}

/** The fastest mixer that works here, for so many channels and frames. */
export function newMixer(channels: number, frames: number): Mixer {
  const compiled = moduleOrNull();
  return compiled ? new WasmMixer(compiled, channels, frames) : new PlainMixer(channels, frames);
}

/** The reference, and the fallback where WebAssembly has no vectors. */
export class PlainMixer implements Mixer {
  readonly kind = 'plain';
  private readonly out: Float32Array[];

  constructor(
    readonly channels: number,
    frames: number,
  ) {
    this.out = Array.from({ length: channels }, () => new Float32Array(frames));
  }

  add(samples: readonly Float32Array[], at: number, matrix: MixMatrix, gain: number): void {
    this.out.forEach((target, to) =>
      samples.forEach((source, from) => {
        const amount = Math.fround(matrix[to]![from]! * gain);
        if (amount === 0) return;
        for (let i = 0; i < source.length; i++)
          target[at + i] = target[at + i]! + Math.fround(source[i]! * amount);
      }),
    );
  }

  addBytes(
    bytes: Uint8Array,
    encoding: SampleEncoding,
    frames: number,
    at: number,
    matrix: MixMatrix,
    gain: number,
  ): void {
    this.add(decodePcm(bytes, encoding, matrix[0]!.length, frames).channels, at, matrix, gain);
  }

  finish(): Float32Array[] {
    return this.out;
  }
}

/**
 * Interleaved bytes to planar samples, full scale = 1.
 * @param frames how many each channel has; the bytes' own begin at `lead`, the rest is silence
 * @param within how many of them the bytes hold
 */
export function decodeSamples(
  bytes: Uint8Array,
  encoding: SampleEncoding,
  channels: number,
  within: number,
  lead: number,
  frames: number,
): Float32Array[] {
  const compiled = moduleOrNull();
  const out = Array.from({ length: channels }, () => new Float32Array(frames));
  if (!compiled) {
    decodeInto(bytes, encoding, within, out, lead);
    return out;
  }
  const mixer = new WasmMixer(compiled, 0, within);
  mixer.decode(bytes, encoding, within, channels).forEach((plane, c) => out[c]!.set(plane, lead));
  mixer.finish();
  return out;
}

/** Mixing in the memory of one instance: the sum first, then the planes of what is added, then its bytes. */
class WasmMixer implements Mixer {
  readonly kind = 'wasm';
  private readonly exports: Exports;
  private readonly heap: number;
  /** Bytes from one channel to the next. */
  private readonly stride: number;
  private readonly planes: number;

  constructor(
    module: WebAssembly.Module,
    readonly channels: number,
    private readonly frames: number,
  ) {
    this.exports = takeInstance(module);
    this.heap = aligned(this.exports.heapBase());
    // Decoders write whole vectors.
    this.stride = aligned(frames * 4 + ALIGN);
    this.planes = this.heap + channels * this.stride;
    this.reach(this.planes);
    new Uint8Array(this.exports.memory.buffer).fill(0, this.heap, this.planes);
  }

  private reach(end: number): void {
    growTo(this.exports, end);
  }

  private sum(frames: number, at: number, matrix: MixMatrix, gain: number): void {
    for (let to = 0; to < this.channels; to++) {
      const row = matrix[to]!;
      for (let from = 0; from < row.length; from++) {
        const amount = Math.fround(row[from]! * gain);
        if (amount === 0) continue;
        const target = this.heap + to * this.stride + at * 4;
        this.exports.mix(this.planes + from * this.stride, target, frames, amount);
      }
    }
  }

  add(samples: readonly Float32Array[], at: number, matrix: MixMatrix, gain: number): void {
    this.reach(this.planes + samples.length * this.stride);
    samples.forEach((source, from) =>
      new Float32Array(this.exports.memory.buffer, this.planes + from * this.stride, source.length).set(
        source,
      ),
    );
    this.sum(samples[0]?.length ?? 0, at, matrix, gain);
  }

  addBytes(
    bytes: Uint8Array,
    encoding: SampleEncoding,
    frames: number,
    at: number,
    matrix: MixMatrix,
    gain: number,
  ): void {
    this.decode(bytes, encoding, frames, matrix[0]!.length);
    this.sum(frames, at, matrix, gain);
  }

  /** Decodes bytes to where what is added lies. @returns the planes, in this instance's memory */
  decode(bytes: Uint8Array, encoding: SampleEncoding, frames: number, channels: number): Float32Array[] {
    const src = this.planes + channels * this.stride + ALIGN;
    this.reach(src + aligned(frames * channels * WIDEST) + ALIGN);
    new Uint8Array(this.exports.memory.buffer, src).set(
      bytes.subarray(0, frames * channels * (encoding.bits / 8)),
    );
    decodeWith(this.exports, encoding, src, channels, frames, this.planes, this.stride);
    return Array.from(
      { length: channels },
      (_, c) => new Float32Array(this.exports.memory.buffer, this.planes + c * this.stride, frames),
    );
  }

  finish(): Float32Array[] {
    const { buffer } = this.exports.memory;
    const out = Array.from({ length: this.channels }, (_, c) =>
      new Float32Array(buffer, this.heap + c * this.stride, this.frames).slice(),
    );
    giveInstance(this.exports);
    return out;
  }
}

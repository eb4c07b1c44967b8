import type { Integrity } from './integrity';
import type { Layout } from './layout';
import type { AudioMetadata } from './metadata';
import type { SampleEncoding } from './pcm';

/** How a file says its sound is stored. */
export interface AudioFormat extends Integrity {
  /** For people: “WAV”, “RF64”. */
  readonly container: string;
  /** For people: “PCM 24-bit”, “float 32-bit”. */
  readonly codec: string;
  readonly bitDepth: number;
  readonly sampleRate: number;
  readonly layout: Layout;
  /** Length in frames. */
  readonly frames: number;
  /** What the file says about itself; `null` when nothing. */
  readonly metadata: AudioMetadata | null;
}

/** Sound that can be read in any order, in planar 32-bit float, full scale = 1. */
export interface AudioReader {
  readonly format: AudioFormat;
  /**
   * Reads frames [start, start + count). Outside the sound there is silence.
   * @returns one array of `count` samples per channel
   */
  read(start: number, count: number): Promise<Float32Array[]>;
  /** The same as the bytes that lie in the file, where they are plain samples. */
  readonly pcm?: PcmAccess;
}

/** Samples as they lie in a file, interleaved. */
export interface PcmAccess {
  readonly encoding: SampleEncoding;
  /** Reads frames [start, start + count), all of them within the sound; `into` is room that may be used. */
  readBytes(start: number, count: number, into?: Uint8Array): Promise<Uint8Array>;
}

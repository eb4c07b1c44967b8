import type { IntegrityFault } from './integrity';
import type { Layout } from './layout';

/** A sound inside a file that may hold several. */
export interface SoundTrack {
  /** Place among the sounds of the file, from 0. */
  readonly index: number;
  /** For people: “English, AAC, 5.1”. */
  readonly label: string;
}

/** What is known of a sound before it has been decoded to its end. */
export interface StreamFormat {
  readonly container: string;
  readonly codec: string;
  /** Bits of the samples where the codec keeps them whole; 32 for codecs that do not. */
  readonly bitDepth: number;
  readonly sampleRate: number;
  readonly layout: Layout;
  /** The file does not say what its channels are: a full sentence. */
  readonly layoutAssumed: string | null;
  /** Length in frames as the container says; `null` when it does not. */
  readonly frames: number | null;
}

/** What turned out when the end was reached. */
export interface StreamEnd {
  /** Why what came out cannot be certified. */
  readonly integrity: readonly IntegrityFault[];
  /** What else is to be known of it, full sentences. */
  readonly remarks: readonly string[];
}

/** Compressed sound, decoded from its start to its end. */
export interface AudioStream {
  readonly format: StreamFormat;
  /** All sounds of the file; `track` says which one this is. */
  readonly tracks: readonly SoundTrack[];
  readonly track: number;
  /** The samples, planar, full scale = 1, with the encoder's delay and padding taken off where the file declares them. */
  chunks(): AsyncGenerator<Float32Array[], StreamEnd, undefined>;
  /** Part of the file that has been read, 0 to 1. */
  readonly done: number;
  /** Gives back what the decoder holds. */
  close(): void;
}

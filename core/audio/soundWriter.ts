/**
 * Where the bytes of a file go.
 * @param at where they belong, bytes from its start: behind all that was written, or over some of it
 */
export type PlacedSink = (bytes: Uint8Array<ArrayBuffer>, at: number) => void | Promise<void>;

/** Frames of a file that are written by themselves, to be joined with the others: what stands before its first and behind its last sample goes with those. */
export interface FramePart {
  readonly from: number;
  readonly to: number;
}

/** What became of the samples of a file. */
export interface WrittenSound {
  /** Samples that had to be held at full scale. */
  readonly clippedSamples: number;
}

/** Writes a file from sound that comes piece by piece. */
export interface SoundWriter {
  /** Where the loudness figures stand that the file states, bytes from its start; left out where it states none. */
  readonly loudnessAt?: number;
  /** @param samples planar, in the order of the layout that it writes; it puts them into that of the file */
  write(samples: readonly Float32Array[], frames: number): Promise<void>;
  finish(): Promise<WrittenSound>;
}

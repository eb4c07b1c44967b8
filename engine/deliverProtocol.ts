import type { WrittenFile } from '@/codecs/write/writtenFile';
import type { Target } from '@/core/check/target';
import type { Treatment } from '@/core/deliver/deliveredSound';
import type { PassFile } from '@/core/deliver/passSounds';
import type { StemSumResult } from '@/core/deliver/stemSum';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Project } from '@/core/programme/model';
import type { Correcting, CorrectionWay } from '@/core/proposals/correction';
import type { Failure, OnProgress, Outcome } from './protocol';

/** A file to be written. */
export interface WriteTask extends PassFile {
  readonly key: string;
  readonly written: Pick<WrittenFile, 'format' | 'metadata' | 'texts' | 'saidLufs'>;
  /** Its figures are known: what goes into it is not measured. */
  readonly known: boolean;
}

/** Part `index` of `count` of a file, all about as long. */
export interface Share {
  readonly index: number;
  readonly count: number;
}

/** A file that was written. */
export interface WrittenBlob {
  readonly blob: Blob;
  readonly clippedSamples: number;
  /** Measured as it went in; `null` where it was known. */
  readonly predicted: LoudnessFigures | null;
  /** What the sum of its stems comes to; `null` where it is none of a set, or one of them did not come to its end. */
  readonly sum: StemSumResult | null;
  /** Where its loudness is to be filled in, bytes from its start; `null` where it states none. */
  readonly loudnessAt: number | null;
}

/** What became of a file in a pass. */
export type WriteFate =
  { readonly ok: WrittenBlob } | { readonly failure: Failure } | { readonly cancelled: true };

/** What a mix measures in a file's layout and at its rate, and what is given to it. */
export interface CorrectedMix {
  readonly before: LoudnessFigures;
  /** A full sentence where nothing is given. */
  readonly correction: Correcting | string;
}

/** Writes the files of deliveries. Everything is of the project that was taken last. */
export interface DeliverApi {
  putAudio(audioKey: string, blob: Blob): void;
  cancel(job: number): void;
  take(project: Project): void;
  /** Renders frames [from, to) of the whole mix once, to be measured and written several times. */
  keepMix(job: number, from: number, to: number, onProgress: OnProgress): Promise<Outcome<Blob>>;
  /** What the mix that was kept comes to, and what brings it to a target. @param target `null`: it is measured only */
  correct(
    job: number,
    mix: Blob,
    treatment: Treatment,
    target: Target | null,
    way: CorrectionWay,
    spoken: readonly TimeRange[],
    onProgress: OnProgress,
  ): Promise<Outcome<CorrectedMix>>;
  /**
   * Writes files in one pass.
   * @param mix what was kept of the mix; `null`: frames [from, to) are rendered, once for all of them
   * @param share of each file that is written, where others write the rest
   * @param onFile told how far each is, 0 to 1
   */
  write(
    job: number,
    tasks: readonly WriteTask[],
    mix: Blob | null,
    from: number,
    to: number,
    share: Share,
    onFile: (key: string, done: number) => void,
  ): Promise<Outcome<ReadonlyMap<string, WriteFate>>>;
  /** One file of a pass is no longer wanted. */
  drop(key: string): void;
}

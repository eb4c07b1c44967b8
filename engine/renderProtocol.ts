import type { WriteFormat } from '@/core/audio/pcm';
import type { Id, Limiter, Project } from '@/core/programme/model';
import type { ClickLimits, FoundClick } from '@/core/proposals/clicks';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import type { Outcome, OnProgress, Cancellable, TakesAudio } from './protocol';

/** A finished file. */
export interface RenderedFile {
  readonly blob: Blob;
  /** Samples that had to be held at full scale. */
  readonly clippedSamples: number;
  /** Where its loudness can be filled in, bytes from its start; `null` where it says nothing of itself. */
  readonly loudnessAt: number | null;
}

/** Renders what is heard and what is handed over. */
export interface RenderApi extends TakesAudio, Cancellable {
  /**
   * Writes a file again with one gain on all of it, and a limiter behind that where there is one. What it said of itself is said
   * again, but for its loudness.
   */
  applyGain(
    job: number,
    blob: Blob,
    gainDb: number,
    limiter: Limiter | null,
    format: WriteFormat,
    onProgress: OnProgress,
  ): Promise<Outcome<RenderedFile>>;
  /** The gain that brings a file to a loudness with a limiter behind it: see `solveLimited`. */
  limitFile(
    job: number,
    blob: Blob,
    limiter: Limiter,
    goalLufs: number,
    startDb: number,
    onProgress: OnProgress,
  ): Promise<Outcome<LimitedGain>>;
  /**
   * The change of every track's gain that brings the programme to a loudness with a limiter on all of it: see `solveLimited`.
   * @param startDb the change without it
   * @param mostDb the largest that every track can take
   */
  solveLimited(
    job: number,
    project: Project,
    limiter: Limiter,
    goalLufs: number,
    startDb: number,
    mostDb: number,
    onProgress: OnProgress,
  ): Promise<Outcome<LimitedGain>>;
  /** Clicks where clips begin, end or follow on one another: see `findClicks`. */
  findClicks(
    job: number,
    project: Project,
    limits: ClickLimits,
    onProgress: OnProgress,
  ): Promise<Outcome<readonly FoundClick[]>>;
  /** How much two clips of one track have in common from one programme frame to another; see `correlationAt`. */
  correlation(
    project: Project,
    beforeId: Id,
    from: number,
    to: number,
  ): Promise<Outcome<{ readonly rho: number | null }>>;
  /** Renders some of the programme to be heard, in stereo where it has more channels than can be heard. */
  renderHeard(
    project: Project,
    start: number,
    count: number,
    soloed: readonly string[],
    channels: number,
  ): Promise<Float32Array[]>;
}

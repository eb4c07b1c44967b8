import { transfer, wrap, type Remote } from 'comlink';
import { WHOLE_FIRST_SOUND, type SoundChoice } from '@/core/audio/soundChoice';
import type { AudioFormat } from '@/core/audio/reader';
import type { SoundTrack } from '@/core/audio/stream';
import type { Thresholds } from '@/core/check/findings/thresholds';
import type { Target } from '@/core/check/target';
import type { Alignment } from '@/core/loudness/alignment';
import type { LevelDifference } from '@/core/loudness/levelDifference';
import type { ExactPeak } from '@/core/loudness/exactTruePeak';
import type { SliceMeasurement } from '@/core/loudness/measureReader';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { ClipLimiting } from '@/core/proposals/limitedClip';
import type { LimitedGain } from '@/core/proposals/limitedGain';
import type { Cut } from '@/core/timeline/cut';
import { sliceBuffers } from './buffers';
import type {
  Begun,
  BegunFile,
  CheckedSound,
  ClipTask,
  Energies,
  FileMeasurement,
  FileToCheck,
  MeasureApi,
  OnProgress,
  Outcome,
  StoreAs,
  StoredSlice,
} from './protocol';
import { withProgress } from './progress';
import { hearing } from './signs';
import { poolOf, settled, type PageWorker } from './workers';

type Api = Remote<MeasureApi>;

/** A measured file, with the sound that is to be kept: the file itself, or what it was decoded to. */
interface MeasuredFile {
  readonly measurement: FileMeasurement;
  readonly pcm: Blob;
  /** Whether the file is stored already under the key that was asked for. */
  readonly stored: boolean;
}

/** A few workers that measure; files take turns, and the slices of a long one are measured side by side. */
class MeasurePool {
  private readonly pool = poolOf<PageWorker<MeasureApi>>(() => {
    const worker = new Worker(new URL('./measure.worker.ts', import.meta.url), { type: 'module' });
    return { worker, api: wrap<MeasureApi>(worker) };
  });
  private jobs = 0;
  private groups = 0;

  /**
   * Measures a whole file. Aborting the signal cancels it, waiting or running.
   * @param audioKey under which it is stored on the way, where it holds plain samples
   */
  async measureFile(
    blob: Blob,
    signal: AbortSignal,
    onProgress: OnProgress,
    choice: SoundChoice = WHOLE_FIRST_SOUND,
    audioKey: string | null = null,
  ): Promise<Outcome<MeasuredFile>> {
    const outcome = await this.wholeFile<BegunFile>(
      blob,
      signal,
      onProgress,
      choice,
      {
        begin: (api, job, report) => api.begin(job, blob, choice, audioKey, report),
        join: async (api, job, format, parts, copied) => {
          const joined = await api.join(job, format, parts);
          if (!('ok' in joined)) return joined;
          const stored = copied && audioKey !== null && (await api.settleStored(audioKey, blob.size));
          return { ok: { measurement: joined.ok, pcm: null, stored } };
        },
      },
      audioKey,
    );
    if (!('ok' in outcome)) return outcome;
    const { measurement, pcm, stored } = outcome.ok;
    return { ok: { measurement, pcm: pcm ?? blob, stored } };
  }

  /** The same to check it; nothing that is decoded is kept. */
  fileToCheck(
    blob: Blob,
    signal: AbortSignal,
    onProgress: OnProgress,
    choice: SoundChoice = WHOLE_FIRST_SOUND,
  ): Promise<Outcome<FileToCheck>> {
    return this.wholeFile<FileToCheck>(blob, signal, onProgress, choice, {
      begin: (api, job, report) => api.beginCheck(job, blob, choice, report),
      join: (api, job, format, parts) => api.joinCheck(job, format, parts),
    });
  }

  /** Holds a file that was measured against targets. */
  checkFile(
    file: FileToCheck,
    targets: readonly Target[],
    thresholds: Thresholds,
    exactPeakDbtp: number | null,
    signal: AbortSignal,
  ): Promise<Outcome<CheckedSound>> {
    return this.submit(signal, null, (api, job) =>
      api.checkFile(job, file, targets, thresholds, exactPeakDbtp),
    );
  }

  /** See `align`. */
  alignSounds(a: Energies, b: Energies, signal: AbortSignal): Promise<Outcome<readonly Alignment[]>> {
    return this.submit(signal, null, (api, job) => api.alignSounds(job, a, b));
  }

  /** See `levelDifference`. */
  levelDifference(
    a: Energies,
    b: Energies,
    offsetSeconds: number,
    signal: AbortSignal,
  ): Promise<Outcome<LevelDifference>> {
    return this.submit(signal, null, (api, job) => api.levelDifference(job, a, b, offsetSeconds));
  }

  /** See `alignFrames`. */
  alignFrames(
    a: Float32Array,
    b: Float32Array,
    signal: AbortSignal,
  ): Promise<Outcome<{ readonly offset: number | null }>> {
    return this.submit(signal, null, (api, job) => api.alignFrames(job, a, b));
  }

  private wholeFile<T>(
    blob: Blob,
    signal: AbortSignal,
    onProgress: OnProgress,
    choice: SoundChoice,
    ways: {
      readonly begin: (api: Api, job: number, report: OnProgress) => Promise<Outcome<Begun<T>>>;
      readonly join: (
        api: Api,
        job: number,
        format: AudioFormat,
        parts: SliceMeasurement[],
        stored: boolean,
      ) => Promise<Outcome<T>>;
    },
    audioKey: string | null = null,
  ): Promise<Outcome<T>> {
    const group = ++this.groups;
    return withProgress<Outcome<T>>(onProgress, async (report) => {
      const begun = await this.submit(signal, group, (api, job) => ways.begin(api, job, report));
      if (!('ok' in begun)) return begun;
      if (begun.ok.kind === 'done') return { ok: begun.ok.of };
      const { format, cuts } = begun.ok;
      const parts = await this.slices(blob, choice, cuts, format.frames, signal, group, onProgress, audioKey);
      if (!('ok' in parts)) return parts;
      const slices = parts.ok.map(({ slice }) => slice);
      const stored = parts.ok.every((part) => part.stored);
      return this.submit(signal, group, (api, job) =>
        ways.join(api, job, format, transfer(slices, slices.flatMap(sliceBuffers)), stored),
      );
    });
  }

  /** All slices of a file; the first that fails stops the others. */
  private async slices(
    blob: Blob,
    { layoutId }: SoundChoice,
    cuts: readonly number[],
    frames: number,
    signal: AbortSignal,
    group: number,
    onProgress: OnProgress,
    audioKey: string | null,
  ): Promise<Outcome<StoredSlice[]>> {
    const stop = new AbortController();
    const either = AbortSignal.any([signal, stop.signal]);
    const doneOf = cuts.slice(1).map(() => 0);
    // About where the slices lie; what lies elsewhere in the file belongs to one of them as well.
    const byteAt = (i: number): number => Math.round((blob.size * i) / doneOf.length);
    const store = (i: number): StoreAs | null =>
      audioKey === null ? null : { audioKey, span: { from: byteAt(i), to: byteAt(i + 1) } };
    const outcomes = await Promise.all(
      doneOf.map((_, i) =>
        withProgress(
          (frames) => {
            doneOf[i] = frames;
            onProgress(doneOf.reduce((a, b) => a + b, 0) / frames);
          },
          async (report) => {
            const outcome = await this.submit(either, group, (api, job) =>
              api.slice(job, blob, layoutId, cuts[i]!, cuts[i + 1]!, store(i), report),
            );
            if (!('ok' in outcome)) stop.abort();
            return outcome;
          },
        ),
      ),
    );
    const failed = outcomes.find((outcome) => 'failure' in outcome);
    if (failed) return failed;
    const parts = outcomes.flatMap((outcome) => ('ok' in outcome ? [outcome.ok] : []));
    return parts.length === outcomes.length ? { ok: parts } : { cancelled: true };
  }

  /** The sounds of a file among which one has to choose; empty when there is but one. */
  soundsOf(blob: Blob, signal: AbortSignal): Promise<Outcome<readonly SoundTrack[]>> {
    return this.submit(signal, ++this.groups, (api, job) => api.soundsOf(job, blob));
  }

  /** Measures a slice of a file as a clip; goes before whole files, as somebody is looking at it. */
  measureClip(task: ClipTask, signal: AbortSignal): Promise<Outcome<ClipMeasurement>> {
    return this.submit(signal, null, (api, job) => api.measureClip(job, task));
  }

  /** The exact true peak of a clip by itself, before its gain, dBTP. */
  exactClipPeak(
    task: ClipTask,
    truePeaks: Float32Array,
    signal: AbortSignal,
  ): Promise<Outcome<{ readonly exact: number | null }>> {
    return this.submit(signal, null, (api, job) => api.exactClipPeak(job, task, truePeaks));
  }

  /** What a clip comes to through a limiter of its own. */
  limitClip(task: ClipTask, asked: ClipLimiting, signal: AbortSignal): Promise<Outcome<LimitedGain>> {
    return this.submit(signal, ++this.groups, (api, job) => api.limitClip(job, task, asked));
  }

  /** The exact true peak of a sound that is kept. */
  exactPeak(
    blob: Blob,
    truePeaks: Float32Array,
    signal: AbortSignal,
    onProgress: OnProgress,
  ): Promise<Outcome<ExactPeak>> {
    return withProgress(onProgress, (report) =>
      this.submit(signal, null, (api, job) => api.exactPeak(job, blob, truePeaks, report)),
    );
  }

  /** Writes several kept mono sounds as one of several channels. */
  combine(
    blobs: readonly Blob[],
    layoutId: string,
    signal: AbortSignal,
    onProgress: OnProgress,
  ): Promise<Outcome<{ readonly blob: Blob } & Pick<AudioFormat, 'warnings' | 'integrity'>>> {
    return withProgress(onProgress, (report) =>
      this.submit(signal, ++this.groups, (api, job) => api.combine(job, blobs, layoutId, report)),
    );
  }

  /** SHA-256 of some bytes, in hexadecimal. */
  hash(blob: Blob, signal: AbortSignal, onProgress: OnProgress): Promise<Outcome<string>> {
    return withProgress(onProgress, (report) =>
      this.submit(signal, ++this.groups, (api, job) => api.hash(job, blob, report)),
    );
  }

  /** Reads what an edit system made. */
  readCut(blob: Blob, name: string, frameRateId: string): Promise<Outcome<Cut>> {
    const never = new AbortController().signal;
    return this.submit(never, null, (api, job) => api.readCut(job, blob, name, frameRateId));
  }

  private submit<T>(
    signal: AbortSignal,
    group: number | null,
    start: (api: Api, job: number) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    const job = ++this.jobs;
    return settled(
      this.pool.run<Outcome<T>>({
        group,
        signal,
        start: ({ api, worker }, heard) => hearing(worker, job, heard, () => start(api, job)),
        cancel: ({ api }) => void api.cancel(job),
      }),
    );
  }
}

let pool: MeasurePool | null = null;

/** The pool of this page, made when first needed. */
export function measurePool(): MeasurePool {
  pool ??= new MeasurePool();
  return pool;
}

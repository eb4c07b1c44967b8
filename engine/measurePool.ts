import { transfer, wrap, type Remote } from 'comlink';
import { WHOLE_FIRST_SOUND, type SoundChoice } from '@/core/audio/soundChoice';
import type { SoundTrack } from '@/core/audio/stream';
import type { ExactPeak } from '@/core/loudness/exactTruePeak';
import type { StretchMeasurement } from '@/core/loudness/measureReader';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { Cut } from '@/core/timeline/cut';
import { EXPORT_AGAIN } from '@/core/formats/limits';
import { FairQueue } from '@/core/parallel/fairQueue';
import { stretchBuffers } from './buffers';
import { toFailure } from './failure';
import type { ClipTask, Failure, FileMeasurement, MeasureApi, OnProgress, Outcome } from './protocol';
import { mostWorkers } from './mostWorkers';
import { withProgress } from './progress';

type Api = Remote<MeasureApi>;

/** A measured file, with the sound that is to be kept: the file itself, or what it was decoded to. */
interface MeasuredFile {
  readonly measurement: FileMeasurement;
  readonly pcm: Blob;
}

/** A worker that has not heeded a cancel after so long is stuck, ms. */
const PATIENCE_MS = 2_000;
/** How often work on a file is looked after, ms. */
const LOOK_MS = 1_000;
/** A file of which nothing was heard for so many looks is given up, so that others go ahead. */
const PATIENT_LOOKS = 30;

const GAVE_UP: Failure = {
  code: 'tooSlow',
  message: 'Reading this file came to no end; it was given up.',
  hint: EXPORT_AGAIN,
};

/** One worker; one that is stuck is replaced. */
interface Hand {
  readonly worker: Worker;
  readonly api: Api;
}

function hireHand(): Hand {
  const worker = new Worker(new URL('./measure.worker.ts', import.meta.url), { type: 'module' });
  return { worker, api: wrap<MeasureApi>(worker) };
}

/** Whether anything is heard of a piece of work. */
class Pulse {
  private looks = 0;

  /** The same listener, which keeps the pulse. */
  with(onProgress: OnProgress): OnProgress {
    return (done) => {
      this.looks = 0;
      onProgress(done);
    };
  }

  /**
   * Looks after it from now on. Looks are counted rather than time, so that a machine that slept is not taken for work
   * that hangs.
   * @returns ends it
   */
  watch(onSilent: () => void): () => void {
    this.looks = 0;
    const timer = setInterval(() => {
      if (++this.looks <= PATIENT_LOOKS) return;
      clearInterval(timer);
      onSilent();
    }, LOOK_MS);
    return () => clearInterval(timer);
  }
}

/** A few workers that measure; files take turns, and the stretches of a long one are measured side by side. */
class MeasurePool {
  private readonly idle: Hand[] = [];
  private readonly queue = new FairQueue<Hand>();
  private readonly dismissed = new WeakSet<Hand>();
  private workers = 0;
  private jobs = 0;
  private groups = 0;

  /** Measures a whole file. Aborting the signal cancels it, waiting or running. */
  measureFile(
    blob: Blob,
    signal: AbortSignal,
    onProgress: OnProgress,
    choice: SoundChoice = WHOLE_FIRST_SOUND,
  ): Promise<Outcome<MeasuredFile>> {
    const group = ++this.groups;
    const pulse = new Pulse();
    return withProgress(pulse.with(onProgress), async (report) => {
      const begun = await this.submit(
        signal,
        group,
        (api, job) => api.begin(job, blob, choice, report),
        pulse,
      );
      if (!('ok' in begun)) return begun;
      if (begun.ok.kind === 'done') {
        const { measurement, pcm } = begun.ok;
        return { ok: { measurement, pcm: pcm ?? blob } };
      }
      const { format, cuts } = begun.ok;
      const parts = await this.stretches(blob, choice, cuts, format.frames, signal, group, onProgress);
      if (!('ok' in parts)) return parts;
      const joined = await this.submit(signal, group, (api, job) =>
        api.join(job, format, transfer(parts.ok, parts.ok.flatMap(stretchBuffers))),
      );
      return 'ok' in joined ? { ok: { measurement: joined.ok, pcm: blob } } : joined;
    });
  }

  /** All stretches of a file; the first that fails stops the others. */
  private async stretches(
    blob: Blob,
    { layoutId }: SoundChoice,
    cuts: readonly number[],
    frames: number,
    signal: AbortSignal,
    group: number,
    onProgress: OnProgress,
  ): Promise<Outcome<StretchMeasurement[]>> {
    const stop = new AbortController();
    const either = AbortSignal.any([signal, stop.signal]);
    const doneOf = cuts.slice(1).map(() => 0);
    const outcomes = await Promise.all(
      doneOf.map((_, i) =>
        withProgress(
          (count) => {
            doneOf[i]! += count;
            onProgress(doneOf.reduce((a, b) => a + b, 0) / frames);
          },
          async (report) => {
            const outcome = await this.submit(either, group, (api, job) =>
              api.stretch(job, blob, layoutId, cuts[i]!, cuts[i + 1]!, report),
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
    return this.submit(signal, ++this.groups, (api, job) => api.soundsOf(job, blob), new Pulse());
  }

  /** Measures a stretch of a file as a clip; goes before whole files, as somebody is looking at it. */
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
  ): Promise<Outcome<{ readonly blob: Blob; readonly warnings: readonly string[] }>> {
    return withProgress(onProgress, (report) =>
      this.submit(signal, ++this.groups, (api, job) => api.combine(job, blobs, layoutId, report)),
    );
  }

  /** Reads what an edit system made. */
  readCut(blob: Blob, name: string, frameRateId: string): Promise<Outcome<Cut>> {
    const never = new AbortController().signal;
    return this.submit(never, null, (api, job) => api.readCut(job, blob, name, frameRateId), new Pulse());
  }

  private submit<T>(
    signal: AbortSignal,
    group: number | null,
    start: (api: Api, job: number) => Promise<Outcome<T>>,
    /** Of work that reads a file, which may come to no end. */
    pulse: Pulse | null = null,
  ): Promise<Outcome<T>> {
    return new Promise((resolve) => {
      const job = ++this.jobs;
      const run = async (hand: Hand): Promise<void> => {
        if (signal.aborted) return resolve({ cancelled: true });
        let giveUp: (outcome: Outcome<T>) => void = () => undefined;
        let watch: ReturnType<typeof setTimeout> | undefined;
        const stuck = new Promise<Outcome<T>>((end) => (giveUp = end));
        const stop = pulse?.watch(() => {
          this.dismiss(hand);
          giveUp({ failure: GAVE_UP });
        });
        const abort = (): void => {
          void hand.api.cancel(job);
          watch = setTimeout(() => {
            this.dismiss(hand);
            giveUp({ cancelled: true });
          }, PATIENCE_MS);
        };
        signal.addEventListener('abort', abort);
        try {
          resolve(await Promise.race([start(hand.api, job), stuck]));
        } catch (error) {
          resolve({ failure: toFailure(error) });
        } finally {
          clearTimeout(watch);
          stop?.();
          signal.removeEventListener('abort', abort);
        }
      };
      this.queue.add(group, { run });
      this.next();
    });
  }

  private next(): void {
    if (this.queue.isEmpty) return;
    const hand = this.idle.pop() ?? this.hire();
    if (!hand) return;
    const work = this.queue.take()!;
    void work.run(hand).finally(() => {
      if (!this.dismissed.has(hand)) this.idle.push(hand);
      this.next();
    });
  }

  private dismiss(hand: Hand): void {
    if (this.dismissed.has(hand)) return;
    hand.worker.terminate();
    this.dismissed.add(hand);
    this.workers--;
  }

  private hire(): Hand | null {
    if (this.workers >= mostWorkers()) return null;
    this.workers++;
    return hireHand();
  }
}

let pool: MeasurePool | null = null;

/** The pool of this page, made when first needed. */
export function measurePool(): MeasurePool {
  pool ??= new MeasurePool();
  return pool;
}

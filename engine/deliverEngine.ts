import { proxy, wrap, type Remote } from 'comlink';
import type { Target } from '@/core/check/target';
import type { Treatment } from '@/core/deliver/deliveredSound';
import { isCuttable } from '@/core/deliver/fileKinds';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Project } from '@/core/programme/model';
import type { CorrectionWay } from '@/core/proposals/correction';
import type { CorrectedMix, DeliverApi, WriteFate, WriteTask } from './deliverProtocol';
import type { OnProgress, Outcome } from './protocol';
import { workerJob } from './workerJob';
import { mostWorkers, type PageWorker } from './workers';

type Hand = PageWorker<DeliverApi>;

function hire(): Hand {
  const worker = new Worker(new URL('./deliver.worker.ts', import.meta.url), { type: 'module' });
  return { worker, api: wrap<DeliverApi>(worker) };
}

/** A shorter share of a file is not worth a worker of its own, seconds. */
const LEAST_SHARE = 60;

/** What became of a file whose shares were written apart. */
function joined(fates: readonly WriteFate[]): WriteFate {
  const [first] = fates;
  if (fates.length === 1) return first!;
  const parts = fates.flatMap((fate) => ('ok' in fate ? [fate.ok] : []));
  const head = parts[0];
  if (!head || parts.length < fates.length)
    return fates.find((fate) => 'failure' in fate) ?? fates.find((fate) => 'cancelled' in fate)!;
  return {
    ok: {
      blob: new Blob(
        parts.map(({ blob }) => blob),
        { type: head.blob.type },
      ),
      clippedSamples: parts.reduce((sum, { clippedSamples }) => sum + clippedSamples, 0),
      predicted: null,
      sum: parts.every(({ sum }) => sum)
        ? { stems: head.sum!.stems, largest: Math.max(...parts.map(({ sum }) => sum!.largest)) }
        : null,
      loudnessAt: head.loudnessAt,
    },
  };
}

/** Whether a file can be written in shares. */
const isShared = ({ written, given, known }: WriteTask): boolean =>
  known && given.limiter === null && isCuttable(written.format);

/** Workers that write the files of one run; they end with {@link close}. */
export class DeliverEngine {
  private hands: Hand[] = [];
  private taken: { readonly project: Project; readonly sounds: ReadonlyMap<string, Blob> } | null = null;

  /** @param sounds of its sources, by their audio keys */
  async take(project: Project, sounds: ReadonlyMap<string, Blob>): Promise<void> {
    this.taken = { project, sounds };
    for (const hand of this.hands) await this.equip(hand);
  }

  private async equip({ api }: Hand): Promise<void> {
    if (!this.taken) return;
    for (const [audioKey, blob] of this.taken.sounds) await api.putAudio(audioKey, blob);
    await api.take(this.taken.project);
  }

  /** So many workers for one pass, each with the project. */
  private async crew(count: number): Promise<readonly Hand[]> {
    while (this.hands.length < count) {
      const hand = hire();
      await this.equip(hand);
      this.hands.push(hand);
    }
    return this.hands.slice(0, count);
  }

  private async job<T>(
    signal: AbortSignal,
    onProgress: OnProgress,
    start: (api: Remote<DeliverApi>, job: number, report: OnProgress) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    const [hand] = await this.crew(1);
    return this.given(hand!, signal, onProgress, start);
  }

  private given<T>(
    hand: Hand,
    signal: AbortSignal,
    onProgress: OnProgress,
    start: (api: Remote<DeliverApi>, job: number, report: OnProgress) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    const { worker, api } = hand;
    return workerJob<T>({
      ...{ worker, signal, onProgress },
      start: (job, report) => start(api, job, report),
      cancel: (job) => void api.cancel(job),
      // Another takes its place for what comes next.
      onEnd: () => (this.hands = this.hands.filter((other) => other !== hand)),
    });
  }

  /** See {@link DeliverApi.keepMix}. */
  keepMix(from: number, to: number, signal: AbortSignal, onProgress: OnProgress): Promise<Outcome<Blob>> {
    return this.job(signal, onProgress, (api, job, report) => api.keepMix(job, from, to, report));
  }

  /** See {@link DeliverApi.correct}. */
  correct(
    mix: Blob,
    treatment: Treatment,
    target: Target | null,
    way: CorrectionWay,
    spoken: readonly TimeRange[],
    signal: AbortSignal,
    onProgress: OnProgress,
  ): Promise<Outcome<CorrectedMix>> {
    return this.job(signal, onProgress, (api, job, report) =>
      api.correct(job, mix, treatment, target, way, spoken, report),
    );
  }

  /** See {@link DeliverApi.write}; where it can be, several workers write a share of each file. */
  async write(
    tasks: readonly WriteTask[],
    mix: Blob | null,
    from: number,
    to: number,
    signal: AbortSignal,
    onFile: (key: string, done: number) => void,
  ): Promise<Outcome<ReadonlyMap<string, WriteFate>>> {
    const seconds = (to - from) / (this.taken?.project.sampleRate ?? 1);
    const most = tasks.every(isShared) ? Math.floor(seconds / LEAST_SHARE) : 1;
    const crew = await this.crew(Math.max(1, Math.min(mostWorkers(), most)));
    const far = new Map(tasks.map(({ key }) => [key, crew.map(() => 0)]));
    const stop = new AbortController();
    const either = AbortSignal.any([signal, stop.signal]);
    const outcomes = await Promise.all(
      crew.map(async (hand, index) => {
        const told = (key: string, done: number): void => {
          const shares = far.get(key)!;
          shares[index] = done;
          onFile(key, shares.reduce((a, b) => a + b, 0) / shares.length);
        };
        const share = { index, count: crew.length };
        const outcome = await this.given(
          hand,
          either,
          () => undefined,
          (api, job) => api.write(job, tasks, mix, from, to, share, proxy(told)),
        );
        if (!('ok' in outcome)) stop.abort();
        return outcome;
      }),
    );
    const failed = outcomes.find((outcome) => 'failure' in outcome);
    if (failed) return failed;
    const fates = outcomes.flatMap((outcome) => ('ok' in outcome ? [outcome.ok] : []));
    if (fates.length < outcomes.length) return { cancelled: true };
    return { ok: new Map(tasks.map(({ key }) => [key, joined(fates.map((of) => of.get(key)!))])) };
  }

  /** One file of the pass is no longer wanted. */
  drop(key: string): void {
    for (const { api } of this.hands) void api.drop(key);
  }

  close(): void {
    for (const { worker } of this.hands) worker.terminate();
  }
}

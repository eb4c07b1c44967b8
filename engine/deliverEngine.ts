import { proxy, wrap, type Remote } from 'comlink';
import type { Target } from '@/core/check/target';
import type { Treatment } from '@/core/deliver/deliveredSound';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { Project } from '@/core/programme/model';
import type { CorrectionWay } from '@/core/proposals/correction';
import type { CorrectedMix, DeliverApi, WriteFate, WriteTask } from './deliverProtocol';
import type { OnProgress, Outcome } from './protocol';
import { workerJob } from './workerJob';

/** A worker that writes the files of one run; it ends with {@link close}. */
export class DeliverEngine {
  private readonly worker = new Worker(new URL('./deliver.worker.ts', import.meta.url), { type: 'module' });
  private readonly api: Remote<DeliverApi> = wrap<DeliverApi>(this.worker);

  /** @param sounds of its sources, by their audio keys */
  async take(project: Project, sounds: ReadonlyMap<string, Blob>): Promise<void> {
    for (const [audioKey, blob] of sounds) await this.api.putAudio(audioKey, blob);
    await this.api.take(project);
  }

  private job<T>(
    signal: AbortSignal,
    onProgress: OnProgress,
    start: (job: number, report: OnProgress) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    return workerJob((job) => void this.api.cancel(job), signal, onProgress, start);
  }

  /** See {@link DeliverApi.keepMix}. */
  keepMix(from: number, to: number, signal: AbortSignal, onProgress: OnProgress): Promise<Outcome<Blob>> {
    return this.job(signal, onProgress, (job, report) => this.api.keepMix(job, from, to, report));
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
    return this.job(signal, onProgress, (job, report) =>
      this.api.correct(job, mix, treatment, target, way, spoken, report),
    );
  }

  /** See {@link DeliverApi.write}. */
  write(
    tasks: readonly WriteTask[],
    mix: Blob | null,
    from: number,
    to: number,
    signal: AbortSignal,
    onFile: (key: string, done: number) => void,
  ): Promise<Outcome<ReadonlyMap<string, WriteFate>>> {
    return this.job(
      signal,
      () => undefined,
      (job) => this.api.write(job, tasks, mix, from, to, proxy(onFile)),
    );
  }

  /** One file of the pass is no longer wanted. */
  drop(key: string): void {
    void this.api.drop(key);
  }

  /** SHA-256 in hexadecimal. */
  hash(blob: Blob, signal: AbortSignal, onProgress: OnProgress): Promise<Outcome<string>> {
    return this.job(signal, onProgress, (job, report) => this.api.hash(job, blob, report));
  }

  close(): void {
    this.worker.terminate();
  }
}

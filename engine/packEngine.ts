import { wrap, type Remote } from 'comlink';
import type { PackManifest } from '@/core/programme/pack';
import { outcomeOf } from './failure';
import type { PackApi, UnpackedProject } from './pack.worker';
import type { OnProgress, Outcome } from './protocol';
import { workerJob } from './workerJob';

export type { UnpackedProject } from './pack.worker';

/** A worker that looks into packs; it ends with {@link close}. */
export class PackEngine {
  private readonly worker = new Worker(new URL('./pack.worker.ts', import.meta.url), { type: 'module' });
  private readonly api: Remote<PackApi> = wrap<PackApi>(this.worker);

  look(file: Blob): Promise<Outcome<PackManifest>> {
    return outcomeOf(this.api.look(file)) as Promise<Outcome<PackManifest>>;
  }

  private job<T>(
    signal: AbortSignal,
    onProgress: OnProgress,
    start: (job: number, report: OnProgress) => Promise<Outcome<T>>,
  ): Promise<Outcome<T>> {
    const { worker } = this;
    return workerJob({ worker, signal, onProgress, start, cancel: (job) => void this.api.cancel(job) });
  }

  open(
    file: Blob,
    keys: ReadonlyMap<string, string>,
    signal: AbortSignal,
    onProgress: OnProgress,
  ): Promise<Outcome<UnpackedProject>> {
    return this.job(signal, onProgress, (job, report) => this.api.open(job, file, keys, report));
  }

  /** SHA-256 in hexadecimal. */
  hash(blob: Blob, signal: AbortSignal, onProgress: OnProgress): Promise<Outcome<string>> {
    return this.job(signal, onProgress, (job, report) => this.api.hash(job, blob, report));
  }

  close(): void {
    this.worker.terminate();
  }
}

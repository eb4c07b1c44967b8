import { wrap } from 'comlink';
import type { OnProgress, Outcome, VoiceApi } from './protocol';
import { withProgress } from './progress';
import { hearing } from './signs';
import { poolOf, settled, type PageWorker } from './workers';

/** Workers that tell voices from other sound; each holds the detector, some 60 MB. */
class VoicePool {
  private readonly pool = poolOf<PageWorker<VoiceApi>>(() => {
    const worker = new Worker(new URL('./voice.worker.ts', import.meta.url), { type: 'module' });
    return { worker, api: wrap<VoiceApi>(worker) };
  });
  private jobs = 0;

  /** How surely somebody speaks, frame by frame: see `VoiceDetector`. */
  certainty(blob: Blob, signal: AbortSignal, onProgress: OnProgress): Promise<Outcome<Uint8Array>> {
    const job = ++this.jobs;
    return withProgress<Outcome<Uint8Array>>(onProgress, (report) =>
      settled(
        this.pool.run<Outcome<Uint8Array>>({
          group: 0,
          signal,
          start: ({ api, worker }, heard) =>
            hearing<Outcome<Uint8Array>>(worker, job, heard, () => api.certainty(job, blob, report)),
          cancel: ({ api }) => void api.cancel(job),
        }),
      ),
    );
  }
}

let pool: VoicePool | null = null;

/** The pool of this page, made when first needed. */
export function voicePool(): VoicePool {
  pool ??= new VoicePool();
  return pool;
}

import { wrap } from 'comlink';
import { GivenUp } from '@/core/parallel/pool';
import { toFailure } from './failure';
import type { OnProgress, Outcome, VoiceApi } from './protocol';
import { withProgress } from './progress';
import { poolOf, type PageWorker } from './workers';

/** Workers that tell voices from other sound; each holds the detector, some 60 MB. */
class VoicePool {
  private readonly pool = poolOf<PageWorker<VoiceApi>>(() => {
    const worker = new Worker(new URL('./voice.worker.ts', import.meta.url), { type: 'module' });
    return { worker, api: wrap<VoiceApi>(worker) };
  });
  private jobs = 0;

  /** How surely somebody speaks, frame by frame: see `VoiceDetector`. */
  async certainty(blob: Blob, signal: AbortSignal, onProgress: OnProgress): Promise<Outcome<Uint8Array>> {
    const job = ++this.jobs;
    try {
      return await withProgress(onProgress, (report) =>
        this.pool.run<Outcome<Uint8Array>>({
          group: 0,
          signal,
          start: ({ api }) => api.certainty(job, blob, report),
          cancel: ({ api }) => void api.cancel(job),
        }),
      );
    } catch (error) {
      if (error instanceof GivenUp) return { cancelled: true };
      return { failure: toFailure(error) };
    }
  }
}

let pool: VoicePool | null = null;

/** The pool of this page, made when first needed. */
export function voicePool(): VoicePool {
  pool ??= new VoicePool();
  return pool;
}

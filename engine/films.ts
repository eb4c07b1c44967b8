import { wrap } from 'comlink';
import type { Layout } from '@/core/audio/layout';
import type { FilmApi, MendedFilm } from './film.worker';
import type { OnProgress, Outcome } from './protocol';
import { workerJob } from './workerJob';

export type { MendedFilm } from './film.worker';

/** Writes a copy of a film with another sound in the place of one of its own, in a worker of its own. */
export async function replaceSoundOfFilm(
  film: Blob,
  track: number,
  sound: Blob,
  layout: Layout,
  signal: AbortSignal,
  onProgress: OnProgress,
): Promise<Outcome<MendedFilm>> {
  const worker = new Worker(new URL('./film.worker.ts', import.meta.url), { type: 'module' });
  const api = wrap<FilmApi>(worker);
  try {
    return await workerJob<MendedFilm>({
      ...{ worker, signal, onProgress },
      cancel: (job) => void api.cancel(job),
      start: (job, report) => api.replaceSound(job, film, track, sound, layout, report),
    });
  } finally {
    worker.terminate();
  }
}

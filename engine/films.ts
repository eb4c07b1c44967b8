import { wrap } from 'comlink';
import type { Layout } from '@/core/audio/layout';
import { outcomeOf } from './failure';
import type { FilmApi, MendedFilm } from './film.worker';
import { withProgress } from './progress';
import type { OnProgress, Outcome } from './protocol';

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
  if (signal.aborted) return { cancelled: true };
  const worker = new Worker(new URL('./film.worker.ts', import.meta.url), { type: 'module' });
  const api = wrap<FilmApi>(worker);
  const abort = (): void => void api.cancel(1);
  signal.addEventListener('abort', abort);
  try {
    return (await withProgress<Outcome<MendedFilm>>(onProgress, (report) =>
      outcomeOf(api.replaceSound(1, film, track, sound, layout, report)),
    )) as Outcome<MendedFilm>;
  } finally {
    signal.removeEventListener('abort', abort);
    worker.terminate();
  }
}

import { wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { filmWords } from '@/core/deliver/filmWords';
import { disagreement } from '@/core/loudness/agreement';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { safeName } from '@/core/text/safeName';
import { replaceSoundOfFilm } from '@/engine/films';
import { measurePool } from '@/engine/measurePool';
import type { Outcome } from '@/engine/protocol';
import type { DeliveredFile } from '../session/deliveries/fileLine';

/** A copy of a film with a finished sound. */
export interface FilmWithSound {
  readonly name: string;
  readonly blob: Blob;
  /** Measured from the copy. */
  readonly figures: LoudnessFigures;
  /** Full sentences. */
  readonly said: readonly string[];
  /** Where it does not measure what the sound does; `null` when it does. */
  readonly wrong: string | null;
}

/** Copies a film with a finished sound in the place of its first, and measures the copy. */
export async function putIntoFilm(
  film: File,
  { name, blob, figures }: DeliveredFile,
  signal: AbortSignal,
  told: (label: string, done: number) => void,
): Promise<Outcome<FilmWithSound>> {
  const opened = await measurePool().measureFile(blob!, signal, (done) => told('Reading', done));
  if (!('ok' in opened)) return opened;
  const { pcm, measurement } = opened.ok;
  const { layout, sampleRate, frames } = measurement.format;
  const made = await replaceSoundOfFilm(film, 0, pcm, layout, signal, (done) =>
    told('Copying the picture', done),
  );
  if (!('ok' in made)) return made;
  const as = wavChannels(layout).layout;
  const read = await measurePool().fileToCheck(
    made.ok.blob,
    signal,
    (done) => told('Measuring the film', done),
    { ...WHOLE_FIRST_SOUND, as },
  );
  if (!('ok' in read)) return read;
  const found = read.ok.material.figures;
  const [, own = '.mov'] = /(\.[^.]+)$/.exec(film.name) ?? [];
  const ending = made.ok.ending ?? own;
  return {
    ok: {
      ...{ name: `${safeName(name.replace(/\.[^.]+$/, ''))}${ending}`, blob: made.ok.blob, figures: found },
      said: filmWords(made.ok, frames / sampleRate),
      wrong: disagreement(figures, found),
    },
  };
}

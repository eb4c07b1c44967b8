import { expose } from 'comlink';
import { replaceSound, type ReplacedSound } from '@/codecs/write/replaceSound';
import { withLayout } from '@/core/audio/views';
import { layoutFor, type Layout } from '@/core/audio/layout';
import { openPcm } from '@/core/formats/openPcm';
import { Jobs } from './answer';
import { blobSource } from './blobSource';
import { BlobWriter } from './blobWriter';
import type { OnProgress, Outcome } from './protocol';

/** A film that was written. */
export interface MendedFilm extends ReplacedSound {
  readonly blob: Blob;
}

const jobs = new Jobs();

const api = {
  /** See {@link replaceSound}. @param sound plain samples @param layout what its channels are */
  replaceSound: (
    job: number,
    film: Blob,
    track: number,
    sound: Blob,
    layout: Layout,
    onProgress: OnProgress,
  ): Promise<Outcome<MendedFilm>> =>
    jobs.answer(
      job,
      async (proceed) => {
        const reader = await openPcm(blobSource(sound));
        const channels =
          layout.labels.length === reader.format.layout.labels.length
            ? layout
            : layoutFor(reader.format.layout.labels.length);
        const bytes = new BlobWriter();
        const done = await replaceSound(
          blobSource(film),
          track,
          withLayout(reader, channels),
          (piece, at) => bytes.place(piece, at),
          proceed,
        );
        return done && { ...done, blob: bytes.finish(film.type || 'video/mp4') };
      },
      { onProgress },
    ),

  cancel: jobs.cancel,
};

export type FilmApi = typeof api;

expose(api);

import { storeSoundFile } from './soundFiles';

/** What a worker is asked to store. */
export interface ToKeep {
  readonly audioKey: string;
  readonly blob: Blob;
}

/** What it tells: how far it is (0 to 1), that it is done, or why not. */
export type KeepTold =
  { readonly done: number } | { readonly kept: true } | { readonly failed: string; readonly full: boolean };

const tell = (told: KeepTold): void => postMessage(told);

onmessage = ({ data: { audioKey, blob } }: MessageEvent<ToKeep>) => {
  storeSoundFile(audioKey, blob, (done) => tell({ done })).then(
    () => tell({ kept: true }),
    (error: unknown) =>
      tell({
        failed: String(error),
        full: error instanceof DOMException && error.name === 'QuotaExceededError',
      }),
  );
};

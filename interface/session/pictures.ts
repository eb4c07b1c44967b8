import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Id, Source } from '@/core/programme/model';

/** A film that the whole programme lies under. */
interface Reference {
  readonly file: File;
  /** Where in the programme it begins, seconds. */
  readonly begins: number;
}

export interface PicturesState {
  /** Files that may hold a picture, by the source that was made from them. */
  readonly files: ReadonlyMap<Id, File>;
  /** Goes before those; `null`: none. */
  readonly reference: Reference | null;
}

const WITH_PICTURE = /\.(mp4|m4v|mov|mkv|webm|ts|m2ts)$/i;

/** Films of this visit. They are not saved with the project: only their sound is. */
export class Pictures {
  readonly store: StoreApi<PicturesState> = createStore<PicturesState>(() => ({
    ...{ files: new Map(), reference: null },
  }));

  /** Sources came out of a file. */
  came(file: File, sources: readonly Source[]): void {
    if (!file.type.startsWith('video/') && !WITH_PICTURE.test(file.name)) return;
    const { files } = this.store.getState();
    this.store.setState({ files: new Map([...files, ...sources.map(({ id }) => [id, file] as const)]) });
  }

  /** @param file `null`: pictures are those of the clips again */
  refer(file: File | null, begins = 0): void {
    this.store.setState({ reference: file && { file, begins } });
  }
}

import type { AudioReader } from '@/core/audio/reader';
import { withLayout } from '@/core/audio/views';
import { openPcm } from '@/core/formats/openPcm';
import type { OpenSource } from '@/core/signal/source';
import { soundSource } from './soundSource';

/** The sound a worker has been given, opened once per file. */
export class AudioShelf {
  private readonly blobs = new Map<string, Blob>();
  private readonly readers = new Map<string, Promise<AudioReader>>();

  put(audioKey: string, blob: Blob): void {
    this.blobs.set(audioKey, blob);
  }

  readonly open: OpenSource = (source) => {
    const key = `${source.audioKey}/${source.layout.id}`;
    const known = this.readers.get(key);
    if (known) return known;
    const blob = this.blobs.get(source.audioKey);
    if (!blob) return Promise.reject(new Error(`The sound of “${source.name}” is missing`));
    const reader = openPcm(soundSource(source.audioKey, blob)).then((opened) =>
      withLayout(opened, source.layout),
    );
    reader.catch(() => this.readers.delete(key));
    this.readers.set(key, reader);
    return reader;
  };
}

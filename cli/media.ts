import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join } from 'node:path';
import { openChosen } from '@/codecs/measureSound';
import { F32 } from '@/core/audio/pcm';
import type { AudioReader } from '@/core/audio/reader';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import type { AudioStream } from '@/core/audio/stream';
import { PcmReader } from '@/core/formats/pcmReader';
import { playOut } from '@/core/loudness/measureStream';
import type { Source } from '@/core/programme/model';
import { newSource } from '@/core/programme/newSource';
import { forget, removeAtEnd } from './cleanUp';
import { fileSource, openFile } from './files';

/** Files of sound that are read in any order while a cut is rendered; what is compressed is decoded into a temporary file. */
export class MediaShelf {
  private readonly readers = new Map<string, AudioReader>();
  private readonly sources = new Map<string, Source>();
  private readonly closers: (() => Promise<unknown>)[] = [];

  async add(file: string): Promise<Source> {
    const known = this.sources.get(file);
    if (known) return known;
    const { handle, size } = await openFile(file);
    this.closers.push(() => handle.close());
    const source = fileSource(handle, size);
    const sound = await openChosen(source, WHOLE_FIRST_SOUND);
    const reader = sound.kind === 'pcm' ? sound.reader : await this.decoded(sound.stream);
    this.readers.set(file, reader);
    const named = { id: file, name: basename(file), audioKey: file, byteLength: source.size };
    const made = newSource(named, reader.format);
    this.sources.set(file, made);
    return made;
  }

  readonly open = (source: Source): Promise<AudioReader> => Promise.resolve(this.readers.get(source.id)!);

  private async decoded(stream: AudioStream): Promise<AudioReader> {
    const folder = await mkdtemp(join(tmpdir(), 'dengung-'));
    removeAtEnd(folder);
    this.closers.unshift(async () => {
      await rm(folder, { recursive: true, force: true });
      forget(folder);
    });
    const handle = await open(join(folder, 'sound'), 'w+');
    this.closers.unshift(() => handle.close());
    const format = await playOut(
      stream,
      async (chunk) => {
        const frames = chunk[0]?.length ?? 0;
        const bytes = new Float32Array(frames * chunk.length);
        chunk.forEach((channel, c) => channel.forEach((x, i) => (bytes[i * chunk.length + c] = x)));
        await handle.writeFile(new Uint8Array(bytes.buffer));
      },
      () => true,
    );
    const size = (await handle.stat()).size;
    return new PcmReader(fileSource(handle, size), format!, { encoding: F32, dataOffset: 0 });
  }

  async close(): Promise<void> {
    for (const close of this.closers) await close().catch(() => undefined);
  }
}

import { createReadStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { openChosen } from '@/codecs/measureSound';
import { F32 } from '@/core/audio/pcm';
import type { ByteSource } from '@/core/audio/byteSource';
import type { AudioReader } from '@/core/audio/reader';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { wavFrame } from '@/core/formats/wav/write';
import { PcmReader } from '@/core/formats/pcmReader';
import type { Source } from '@/core/programme/model';
import { newSource } from '@/core/programme/newSource';
import { forget, temporaryFolder } from './cleanUp';
import { absolute, openFile } from './files';
import { osPath } from './names';
import type { TaskPool } from './pool';
import type { Unpacked } from './work';

/**
 * Files of sound that are read in any order while a cut is rendered; what is compressed is decoded into a temporary file,
 * by a worker that can be given up.
 */
export class MediaShelf {
  private readonly readers = new Map<string, AudioReader>();
  private readonly sources = new Map<string, Source>();
  private readonly closers: (() => Promise<unknown>)[] = [];
  /** Where what is compressed was decoded to, by file. */
  private readonly decodedTo = new Map<string, string>();
  private folder: string | null = null;

  constructor(private readonly pool: TaskPool) {}

  /** The folder of what is decoded; it goes with the shelf, or with the program. */
  private async decodedFolder(): Promise<string> {
    this.folder ??= await temporaryFolder();
    return this.folder;
  }

  async add(file: string): Promise<Source> {
    const known = this.sources.get(file);
    if (known) return known;
    const to = join(await this.decodedFolder(), String(this.sources.size));
    const task = { kind: 'unpack', file, to } as const;
    const unpacked = (await this.pool.run(task, this.sources.size, () => undefined)) as Unpacked;
    const { handle, source } = await openFile(file);
    this.closers.push(() => handle.close());
    const reader = unpacked.plain ? await this.plain(source) : await this.decoded(to, unpacked.format);
    if (!unpacked.plain) this.decodedTo.set(file, to);
    this.readers.set(file, reader);
    const named = { id: file, name: basename(file), audioKey: file, byteLength: source.size };
    const made = newSource(named, reader.format);
    this.sources.set(file, made);
    return made;
  }

  readonly open = (source: Source): Promise<AudioReader> => Promise.resolve(this.readers.get(source.id)!);

  /** A sound as the product keeps it: as it came where it has plain samples, else decoded, as float WAV. */
  async *kept(file: string): AsyncGenerator<Uint8Array> {
    const decoded = this.decodedTo.get(file);
    if (decoded === undefined)
      return yield* createReadStream(osPath(absolute(file))) as AsyncIterable<Buffer>;
    const { sampleRate, layout, frames } = this.readers.get(file)!.format;
    const { header, trailer } = wavFrame({ sampleRate, layout, frames, format: 'f32' });
    yield header;
    yield* createReadStream(decoded) as AsyncIterable<Buffer>;
    yield trailer;
  }

  private async plain(source: ByteSource): Promise<AudioReader> {
    const sound = await openChosen(source, WHOLE_FIRST_SOUND);
    if (sound.kind !== 'pcm') throw new Error('Plain samples expected');
    return sound.reader;
  }

  private async decoded(path: string, format: AudioReader['format']): Promise<AudioReader> {
    const { handle, source } = await openFile(path);
    this.closers.push(() => handle.close());
    return new PcmReader(source, format, { encoding: F32, dataOffset: 0 });
  }

  async close(): Promise<void> {
    for (const close of this.closers) await close().catch(() => undefined);
    if (this.folder === null) return;
    await rm(this.folder, { recursive: true, force: true });
    forget(this.folder);
  }
}

import { configure, Reader, ZipReader, type Entry, type FileEntry } from '@zip.js/zip.js';
import type { ByteSource } from '@/core/audio/byteSource';
import {
  damagedPack,
  HANDOVER,
  MANIFEST,
  MOST_LIST_BYTES,
  MOST_PARTS,
  MOST_TEXT_BYTES,
  notAPack,
  PackError,
  PROJECT,
  readManifest,
  type PackManifest,
} from '@/core/programme/pack';

// It runs in a worker of its own already, or in Node.
configure({ useWebWorkers: false });

/** A source of bytes as the package reads one. */
class SourceReader extends Reader<ByteSource> {
  constructor(private readonly source: ByteSource) {
    super(source);
    this.size = source.size;
  }

  override async readUint8Array(index: number, length: number): Promise<Uint8Array<ArrayBuffer>> {
    // The package keeps what it was given: a buffer that is used again would change under it.
    return Uint8Array.from(await this.source.read(index, length));
  }
}

/** Where a sound lies in the file, byte for byte. */
interface SoundPlace {
  readonly offset: number;
  readonly bytes: number;
}

/** A pack that was opened: what it says of itself, its texts, and where its sounds are. */
export interface OpenedPack {
  readonly manifest: PackManifest;
  /** `{project, past, future}`, not looked at yet. */
  readonly project: unknown;
  /** What was handed over, not looked at yet; `null` where it says nothing. */
  readonly handover: unknown;
  /** By audio key, as far as they are in it. */
  readonly sounds: ReadonlyMap<string, SoundPlace>;
}

/** The text of a part; stops where it is longer than it may be, whatever it said of itself. */
async function textOf(entry: FileEntry, most: number): Promise<string> {
  const tooLarge = (): PackError =>
    new PackError(
      'tooLarge',
      `A part of this project file is over ${most / 1e6} MB.`,
      'Check that it is the right file.',
    );
  if (entry.uncompressedSize > most) throw tooLarge();
  const decoder = new TextDecoder();
  const parts: string[] = [];
  let came = 0;
  await entry.getData(
    new WritableStream<Uint8Array>({
      write(bytes) {
        came += bytes.length;
        if (came > most) throw tooLarge();
        parts.push(decoder.decode(bytes, { stream: true }));
      },
    }),
    { checkSignature: true },
  );
  return parts.join('') + decoder.decode();
}

const LOCAL_HEADER = 30;
const LOCAL_SIGNATURE = 0x04034b50;

/** Where the bytes of a part lie that is stored as it is. Source: PKWARE APPNOTE 6.3.10, 4.3.7. */
async function placeOf(source: ByteSource, entry: FileEntry): Promise<SoundPlace> {
  if (entry.compressionMethod !== 0 || entry.encrypted)
    throw damagedPack('its sound is compressed or encrypted; put it together again without');
  const head = await source.read(entry.offset, LOCAL_HEADER);
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  if (head.length < LOCAL_HEADER || view.getUint32(0, true) !== LOCAL_SIGNATURE)
    throw damagedPack('a part is not where the list says');
  const offset = entry.offset + LOCAL_HEADER + view.getUint16(26, true) + view.getUint16(28, true);
  const bytes = entry.uncompressedSize;
  if (entry.compressedSize !== bytes || offset + bytes > source.size)
    throw damagedPack('it ends before its sound does');
  return { offset, bytes };
}

const jsonOf = (text: string, what: string): unknown => {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw damagedPack(`${what} is no JSON`);
  }
};

/** Opens a pack. Names of its parts are looked up, never followed. @throws PackError */
export async function readPack(source: ByteSource): Promise<OpenedPack> {
  const zip = new ZipReader(new SourceReader(source));
  try {
    const parts = new Map<string, FileEntry>();
    const take = (entry: Entry): void => {
      if (entry.directory) return;
      if (parts.has(entry.filename))
        throw damagedPack(`it has two parts named ${entry.filename.slice(0, 60)}`);
      if (parts.size === MOST_PARTS) throw damagedPack(`it has over ${MOST_PARTS} parts`);
      parts.set(entry.filename, entry);
    };
    for await (const entry of zip.getEntriesGenerator()) take(entry);
    const [list, project, handover] = [MANIFEST, PROJECT, HANDOVER].map((name) => parts.get(name));
    if (!list) throw notAPack();
    const manifest = readManifest(await textOf(list, MOST_LIST_BYTES));
    if (!project) throw damagedPack('its project is missing');
    const sounds = new Map<string, SoundPlace>();
    for (const { audioKey, path, bytes, name } of manifest.sounds) {
      if (path === null) continue;
      const part = parts.get(path);
      if (!part) throw damagedPack(`the sound of ${name} is missing`);
      const place = await placeOf(source, part);
      if (place.bytes !== bytes) throw damagedPack(`the sound of ${name} has another length`);
      sounds.set(audioKey, place);
    }
    return {
      ...{ manifest, sounds, project: jsonOf(await textOf(project, MOST_TEXT_BYTES), 'its project') },
      handover: handover
        ? jsonOf(await textOf(handover, MOST_TEXT_BYTES), 'its list of what was handed over')
        : null,
    };
  } catch (error) {
    if (error instanceof PackError) throw error;
    // Whatever the package says: it is no zip, or not a whole one.
    throw (await beginsAsZip(source)) ? damagedPack('it is no whole zip') : notAPack();
  } finally {
    await zip.close().catch(() => undefined);
  }
}

async function beginsAsZip(source: ByteSource): Promise<boolean> {
  const [p, k] = await source.read(0, 2);
  return p === 0x50 && k === 0x4b;
}

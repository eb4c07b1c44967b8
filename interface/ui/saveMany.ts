import { downloadZip } from 'client-zip';
import { GivenUp, watch } from '@/core/parallel/watchdog';
import { BlobWriter } from '@/engine/blobWriter';
import { PAGE_WATCH } from '@/engine/workers';
import { slicedStream, slicesOf } from '@/storage/blobSlices';
import { saveBlob } from './saveBlob';

/** A file to be saved: its folder among the others, and its name. */
export interface NamedBlob {
  readonly name: string;
  readonly blob: Blob;
  /** Told once it is there, with the name it got. */
  readonly told?: (savedAs: string) => void;
  /** Told why it could not be saved; the others are saved all the same. Without it, that ends them all. */
  readonly failed?: (error: unknown) => void;
}

/** What of the browser's file access is used here; not every browser has it. */
interface FileAccess {
  showDirectoryPicker?: (options: { mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>;
  showSaveFilePicker?: (options: {
    suggestedName: string;
    types: readonly { readonly description: string; readonly accept: Readonly<Record<string, string[]>> }[];
  }) => Promise<FileSystemFileHandle>;
}

const access = (): FileAccess => window as FileAccess;

export const canSaveToFolder = (): boolean => access().showDirectoryPicker !== undefined;

/** Somewhere to save files to, one after the other. */
export type Destination = (files: AsyncIterable<NamedBlob>) => Promise<void>;

const isCancel = (error: unknown): boolean => error instanceof DOMException && error.name === 'AbortError';

/** The same name with a number, where a folder has it already: nothing is overwritten. */
async function freeName(folder: FileSystemDirectoryHandle, name: string): Promise<string> {
  const dot = name.lastIndexOf('.');
  for (let n = 1; ; n++) {
    const tried = n === 1 ? name : `${name.slice(0, dot)} (${n})${name.slice(dot)}`;
    const taken = await folder.getFileHandle(tried).then(
      () => true,
      () => false,
    );
    if (!taken) return tried;
  }
}

/** The error of a file whose writing made no progress. */
const stalled = (): Error => new Error('saving stalled and was stopped');

/** Writes bytes to a file, which is put in place only once it is complete; a write that makes no progress is aborted. */
async function writeWatched(
  handle: FileSystemFileHandle,
  write: (file: WritableStreamDefaultWriter<Uint8Array>, heard: () => void) => Promise<void>,
): Promise<void> {
  const file = ((await handle.createWritable()) as WritableStream<Uint8Array>).getWriter();
  try {
    await watch(PAGE_WATCH, { start: (heard) => write(file, heard), end: () => undefined });
    await file.close();
  } catch (error) {
    await file.abort().catch(() => undefined);
    throw error instanceof GivenUp ? stalled() : error;
  }
}

/** Asks for a folder that may be written to. @returns `null` when none was picked */
export async function askForFolder(): Promise<FileSystemDirectoryHandle | null> {
  try {
    return await access().showDirectoryPicker!({ mode: 'readwrite' });
  } catch (error) {
    if (isCancel(error)) return null;
    throw error;
  }
}

/** Asks for a folder. @returns `null` when none was picked */
export async function pickFolder(): Promise<Destination | null> {
  const folder = await askForFolder();
  if (!folder) return null;
  return async (files) => {
    for await (const file of files) {
      try {
        const savedAs = await saveInto(folder, file);
        file.told?.(savedAs);
      } catch (error) {
        if (!file.failed) throw error;
        file.failed(error);
      }
    }
  };
}

/** @returns its path in the folder */
async function saveInto(folder: FileSystemDirectoryHandle, { name, blob }: NamedBlob): Promise<string> {
  const path = name.split('/');
  let into = folder;
  for (const part of path.slice(0, -1)) into = await into.getDirectoryHandle(part, { create: true });
  const free = await freeName(into, path.at(-1)!);
  const handle = await into.getFileHandle(free, { create: true });
  try {
    await writeWatched(handle, async (file, heard) => {
      for await (const bytes of slicesOf(blob)) {
        await file.write(bytes);
        heard();
      }
    });
  } catch (error) {
    // Nothing is left that looks like a file.
    await into.removeEntry(free).catch(() => undefined);
    throw error;
  }
  return [...path.slice(0, -1), free].join('/');
}

/** Files on their way into one zip, each as it comes. */
class Zipping {
  /** A file is being written, rather than waited for. */
  private busy = false;
  private readonly bytes: ReadableStream<Uint8Array>;

  constructor(files: AsyncIterable<NamedBlob>, onFile: (file: NamedBlob) => void = () => undefined) {
    this.bytes = downloadZip(this.entries(files, onFile)).body!;
  }

  private async *entries(files: AsyncIterable<NamedBlob>, onFile: (file: NamedBlob) => void) {
    for await (const file of files) {
      onFile(file);
      this.busy = true;
      yield { name: file.name, input: slicedStream(file.blob), size: file.blob.size };
      this.busy = false;
    }
    this.busy = true;
  }

  private async drain(heard: () => void, take: (bytes: Uint8Array) => Promise<void>): Promise<void> {
    // While the next file is still being made there is nothing to write.
    const waiting = setInterval(() => {
      if (!this.busy) heard();
    }, 500);
    const reader = this.bytes.getReader();
    try {
      for (let part = await reader.read(); !part.done; part = await reader.read()) {
        await take(part.value);
        heard();
      }
    } catch (error) {
      await reader.cancel(error).catch(() => undefined);
      throw error;
    } finally {
      clearInterval(waiting);
    }
  }

  into(handle: FileSystemFileHandle): Promise<void> {
    return writeWatched(handle, (file, heard) => this.drain(heard, (bytes) => file.write(bytes)));
  }

  async blob(): Promise<Blob> {
    const writer = new BlobWriter();
    await watch(PAGE_WATCH, {
      start: (heard) =>
        this.drain(heard, async (bytes) => writer.write((bytes as Uint8Array<ArrayBuffer>).slice())),
      end: () => undefined,
    }).catch((error: unknown) => {
      throw error instanceof GivenUp ? stalled() : error;
    });
    return writer.finish('application/zip');
  }
}

/** What a zip is called that holds anything. */
const ANY_ZIP = { description: 'Zip', ending: '.zip' };

/** Asks where one zip is to go; where the browser cannot ask, it is offered to be saved. @returns `null` when given up */
export async function pickZip(name: string, kind = ANY_ZIP): Promise<Destination | null> {
  const { showSaveFilePicker } = access();
  let handle: FileSystemFileHandle | null = null;
  if (showSaveFilePicker)
    try {
      handle = await showSaveFilePicker({
        suggestedName: name,
        types: [{ description: kind.description, accept: { 'application/zip': [kind.ending] } }],
      });
    } catch (error) {
      if (isCancel(error)) return null;
      throw error;
    }
  return async (files) => {
    const held: NamedBlob[] = [];
    const zip = new Zipping(files, (file) => held.push(file));
    if (handle) await zip.into(handle);
    else saveBlob(await zip.blob(), name);
    // Only a whole zip holds anything.
    for (const file of held) file.told?.(`${name}/${file.name}`);
  };
}

/** Writes a zip into a folder; it takes its place only once it is whole. @returns the name it got */
export async function zipInto(
  folder: FileSystemDirectoryHandle,
  name: string,
  files: AsyncIterable<NamedBlob>,
): Promise<string> {
  const free = await freeName(folder, name);
  const handle = await folder.getFileHandle(free, { create: true });
  try {
    await new Zipping(files).into(handle);
    return free;
  } catch (error) {
    await folder.removeEntry(free).catch(() => undefined);
    throw error;
  }
}

/** Names that differ from each other, in the order of those that were asked for. */
export function distinctNames(): (name: string) => string {
  const taken = new Set<string>();
  return (name) => {
    const dot = name.lastIndexOf('.');
    for (let n = 1; ; n++) {
      const tried = n === 1 ? name : `${name.slice(0, dot)} (${n})${name.slice(dot)}`;
      if (taken.has(tried.toLowerCase())) continue;
      taken.add(tried.toLowerCase());
      return tried;
    }
  };
}

import { downloadZip } from 'client-zip';
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
    // It takes its place only once it is whole.
    await blob.stream().pipeTo(await handle.createWritable());
  } catch (error) {
    // Nothing is left that looks like a file.
    await into.removeEntry(free).catch(() => undefined);
    throw error;
  }
  return [...path.slice(0, -1), free].join('/');
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
    const zip = downloadZip(
      (async function* () {
        for await (const file of files) {
          held.push(file);
          yield { name: file.name, input: file.blob };
        }
      })(),
    );
    if (handle) await zip.body!.pipeTo(await handle.createWritable());
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
    const entries = async function* () {
      for await (const file of files) yield { name: file.name, input: file.blob };
    };
    await downloadZip(entries()).body!.pipeTo(await handle.createWritable());
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

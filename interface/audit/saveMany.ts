import { downloadZip } from 'client-zip';
import { saveBlob } from '../ui/saveBlob';

/** A file to be saved: its folder among the others, and its name. */
export interface NamedBlob {
  readonly name: string;
  readonly blob: Blob;
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

/** Asks for a folder. @returns `null` when none was picked */
export async function pickFolder(): Promise<Destination | null> {
  let folder: FileSystemDirectoryHandle;
  try {
    folder = await access().showDirectoryPicker!({ mode: 'readwrite' });
  } catch (error) {
    if (isCancel(error)) return null;
    throw error;
  }
  return async (files) => {
    for await (const { name, blob } of files) {
      const path = name.split('/');
      let into = folder;
      for (const part of path.slice(0, -1)) into = await into.getDirectoryHandle(part, { create: true });
      const handle = await into.getFileHandle(await freeName(into, path.at(-1)!), { create: true });
      // It takes its place only once it is whole.
      await blob.stream().pipeTo(await handle.createWritable());
    }
  };
}

/** Asks where one zip is to go; where the browser cannot ask, it is offered to be saved. @returns `null` when given up */
export async function pickZip(name: string): Promise<Destination | null> {
  const zipped = (files: AsyncIterable<NamedBlob>): Response =>
    downloadZip(
      (async function* () {
        for await (const { name: path, blob } of files) yield { name: path, input: blob };
      })(),
    );
  const { showSaveFilePicker } = access();
  if (!showSaveFilePicker) return async (files) => saveBlob(await zipped(files).blob(), name);
  try {
    const handle = await showSaveFilePicker({
      suggestedName: name,
      types: [{ description: 'Zip', accept: { 'application/zip': ['.zip'] } }],
    });
    return async (files) => zipped(files).body!.pipeTo(await handle.createWritable());
  } catch (error) {
    if (isCancel(error)) return null;
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

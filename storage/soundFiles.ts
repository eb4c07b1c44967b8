import { slicesOf } from './blobSlices';

/**
 * The private folder of this site in which sound lies, a file each, named by its audio key. A file there counts only once a record
 * names it (see `audio.ts`): one without is half-written, or left over.
 */

const FOLDER = 'sound';

/** Reads and writes at once, in a worker; not in every browser. */
export interface SoundHandle {
  read(into: Uint8Array, place: { readonly at: number }): number;
  write(bytes: Uint8Array, place: { readonly at: number }): number;
  truncate(size: number): void;
  getSize(): number;
  flush(): void;
  close(): void;
}

interface OpensAtOnce {
  createSyncAccessHandle?(options: { readonly mode: string }): Promise<SoundHandle>;
}

async function folder(): Promise<FileSystemDirectoryHandle> {
  const root = await navigator.storage.getDirectory();
  return root.getDirectoryHandle(FOLDER, { create: true });
}

async function opened(audioKey: string, mode: string, create: boolean): Promise<SoundHandle> {
  const file: FileSystemFileHandle & OpensAtOnce = await (await folder()).getFileHandle(audioKey, { create });
  if (!file.createSyncAccessHandle) throw new Error('Files cannot be opened here');
  return file.createSyncAccessHandle({ mode });
}

/**
 * Opens the file of a sound to be written, in a worker; several may write to it at a time.
 * @throws where this browser has no such files
 */
export const writeSoundFile = (audioKey: string): Promise<SoundHandle> =>
  opened(audioKey, 'readwrite-unsafe', true);

/** The same to be read; @throws also where there is no such file */
export const readSoundFile = (audioKey: string): Promise<SoundHandle> => opened(audioKey, 'read-only', false);

/** Writes all of some bytes. @throws DOMException `QuotaExceededError` where there is no room */
export function writeWhole(handle: SoundHandle, bytes: Uint8Array, at: number): void {
  if (handle.write(bytes, { at }) < bytes.length)
    throw new DOMException('There was no room for all of it', 'QuotaExceededError');
}

/**
 * Writes a sound to its file, in a worker, and makes sure that it is on the disk.
 * @param onProgress told the part done, 0 to 1, whenever another hundredth is
 * @throws where this browser has no such files, or there is no room; what was written is gone then
 */
export async function storeSoundFile(
  audioKey: string,
  blob: Blob,
  onProgress: (done: number) => void = () => undefined,
): Promise<void> {
  try {
    const handle = await writeSoundFile(audioKey);
    try {
      handle.truncate(blob.size);
      let [at, told] = [0, 0];
      for await (const bytes of slicesOf(blob)) {
        writeWhole(handle, bytes, at);
        at += bytes.length;
        const percent = Math.floor((100 * at) / blob.size);
        if (percent > told) onProgress(percent / 100);
        told = percent;
      }
      handle.flush();
    } finally {
      handle.close();
    }
  } catch (error) {
    await removeSoundFile(audioKey);
    throw error;
  }
}

/** A sound's file, read lazily; `null` where there is none. */
export async function soundFile(audioKey: string): Promise<File | null> {
  try {
    return await (await (await folder()).getFileHandle(audioKey)).getFile();
  } catch {
    return null;
  }
}

/** Times a file is tried to be removed that a worker has open which is just ending, and ms between them. */
const TRIES = 5;
const BETWEEN_MS = 100;

/** Lets a file go. One that somebody has open is left, and let go the next time orphans are looked for. */
export async function removeSoundFile(audioKey: string): Promise<void> {
  for (let tried = 1; tried <= TRIES; tried++) {
    try {
      return await (await folder()).removeEntry(audioKey);
    } catch (error) {
      const open = error instanceof DOMException && error.name === 'NoModificationAllowedError';
      if (!open || tried === TRIES) return;
      await new Promise((resolve) => setTimeout(resolve, BETWEEN_MS));
    }
  }
}

/** Names of all files; none where this browser has no such folder. */
export async function soundFileKeys(): Promise<readonly string[]> {
  try {
    const keys: string[] = [];
    for await (const key of (await folder()).keys()) keys.push(key);
    return keys;
  } catch {
    return [];
  }
}

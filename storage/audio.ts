import { storageError } from './failure';
import type { KeepTold, ToKeep } from './keep.worker';
import { removeSoundFile, soundFile, soundFileKeys, storeSoundFile } from './soundFiles';
import { audioStore, storesLast } from './stores';

/** Bytes in one piece, where sound is stored in the database: large enough to be few, small enough for progress and cancel. */
const PIECE = 32 * 1024 * 1024;

/** A sound that is stored whole: as a file of its own, or in pieces in the database where the browser has no files. */
interface AudioRecord {
  readonly size: number;
  /** `null`: a file. */
  readonly pieces: number | null;
}

/** Sound this young may belong to an import that has not reached its project yet, in this window or another. */
const FRESH_MS = 60 * 60 * 1000;

/** A new key; it tells when it was made. */
export function newAudioKey(random: string): string {
  return `${Date.now().toString(36)}-${random}`;
}

const isFresh = (audioKey: string): boolean => Date.now() - parseInt(audioKey, 36) < FRESH_MS;

const pieceKey = (audioKey: string, index: number): string => `${audioKey}/${index}`;

/** Whether sound can lie in files: not where nothing lasts, and not in every browser; what fails later falls back to the database. */
export const keepsFiles = async (): Promise<boolean> =>
  typeof navigator !== 'undefined' &&
  typeof navigator.storage?.getDirectory === 'function' &&
  typeof Worker !== 'undefined' &&
  (await storesLast());

/**
 * Writes a sound to a file of its own, in a worker.
 * @returns `false` when aborted, `null` where this browser cannot
 * @throws DOMException `QuotaExceededError`
 */
async function putFile(
  audioKey: string,
  blob: Blob,
  signal: AbortSignal,
  onProgress: (done: number) => void,
): Promise<boolean | null> {
  if (!(await keepsFiles())) return null;
  const worker = new Worker(new URL('./keep.worker.ts', import.meta.url), { type: 'module' });
  try {
    const told = await new Promise<KeepTold | null>((resolve) => {
      signal.addEventListener('abort', () => resolve(null), { once: true });
      worker.onerror = () => resolve({ failed: 'the worker failed', full: false });
      worker.onmessage = ({ data }: MessageEvent<KeepTold>) => {
        if ('done' in data) onProgress(data.done);
        else resolve(data);
      };
      worker.postMessage({ audioKey, blob } satisfies ToKeep);
    });
    if (signal.aborted || !told) return false;
    if ('kept' in told) return true;
    if ('full' in told && told.full)
      throw new DOMException('There is no room for the sound', 'QuotaExceededError');
    return null;
  } finally {
    worker.terminate();
  }
}

/** The same in pieces, in the database. */
async function putPieces(
  audioKey: string,
  blob: Blob,
  signal: AbortSignal,
  onProgress: (done: number) => void,
): Promise<boolean> {
  const pieces = Math.max(1, Math.ceil(blob.size / PIECE));
  try {
    for (let index = 0; index < pieces; index++) {
      if (signal.aborted) break;
      await audioStore.setItem(pieceKey(audioKey, index), blob.slice(index * PIECE, (index + 1) * PIECE));
      onProgress((index + 1) / pieces);
    }
    if (!signal.aborted) {
      await audioStore.setItem<AudioRecord>(audioKey, { pieces, size: blob.size });
      return true;
    }
  } catch (error) {
    await removePieces(audioKey, pieces).catch(() => undefined);
    throw error;
  }
  await removePieces(audioKey, pieces);
  return false;
}

/** Notes that the file of a sound is whole. @throws StorageError when the browser refuses */
export async function putAudioRecord(audioKey: string, size: number): Promise<void> {
  try {
    await audioStore.setItem<AudioRecord>(audioKey, { pieces: null, size });
  } catch (error) {
    await removeSoundFile(audioKey);
    throw storageError(error);
  }
}

/**
 * Keeps sound under a key.
 * @returns whether it is kept; `false` when the signal was aborted, then nothing of it stays
 * @throws StorageError when the browser refuses
 */
export async function putAudio(
  audioKey: string,
  blob: Blob,
  signal: AbortSignal,
  onProgress: (done: number) => void,
): Promise<boolean> {
  try {
    const written = await putFile(audioKey, blob, signal, onProgress);
    if (written) await putAudioRecord(audioKey, blob.size);
    // What was begun of a file would never go: its key is in use.
    else await removeSoundFile(audioKey);
    return written ?? (await putPieces(audioKey, blob, signal, onProgress));
  } catch (error) {
    throw storageError(error);
  }
}

/** The sound kept under a key as one Blob, read lazily; `null` when it is not there or not whole. */
export async function getAudio(audioKey: string): Promise<Blob | null> {
  const record = await audioStore.getItem<AudioRecord>(audioKey);
  if (!record) return null;
  if (record.pieces === null) {
    const file = await soundFile(audioKey);
    return file?.size === record.size ? file : null;
  }
  const pieces = await Promise.all(
    Array.from({ length: record.pieces }, (_, index) => audioStore.getItem<Blob>(pieceKey(audioKey, index))),
  );
  const there = pieces.filter((piece) => piece !== null);
  const blob = new Blob(there);
  return there.length === record.pieces && blob.size === record.size ? blob : null;
}

/**
 * Keeps sound again that was kept and may be gone: the browser clears a site's data without asking.
 * @param blob as it was fetched; where its file is gone it cannot be read any more
 * @returns whether it is kept
 * @throws StorageError when the browser refuses
 */
export async function keepAudioAgain(audioKey: string, blob: Blob): Promise<boolean> {
  if (await getAudio(audioKey)) return true;
  const file = await soundFile(audioKey);
  if (file?.size === blob.size) {
    await putAudioRecord(audioKey, blob.size);
    return true;
  }
  try {
    await blob.slice(0, 1).arrayBuffer();
  } catch {
    return false;
  }
  return putAudio(audioKey, blob, new AbortController().signal, () => undefined);
}

async function removePieces(audioKey: string, pieces: number): Promise<void> {
  for (let index = 0; index < pieces; index++) await audioStore.removeItem(pieceKey(audioKey, index));
}

/** Forgets sound that none of the given keys names, whole or half-kept, unless it has just come in. */
export async function removeAudioExcept(wanted: ReadonlySet<string>): Promise<void> {
  const goes = (audioKey: string): boolean => !wanted.has(audioKey) && !isFresh(audioKey);
  for (const key of await audioStore.keys()) if (goes(key.split('/')[0]!)) await audioStore.removeItem(key);
  for (const key of await soundFileKeys()) if (goes(key)) await removeSoundFile(key);
}

/**
 * Moves sound that lies in the database in pieces into files, which are read many times as fast; in a worker. A sound is in one of the
 * two at any moment; where it is cut short, it goes on the next time.
 * @returns how many were moved
 */
export async function movePiecesToFiles(): Promise<number> {
  let moved = 0;
  const keys = await audioStore.keys();
  for (const audioKey of keys.filter((key) => !key.includes('/'))) {
    const record = await audioStore.getItem<AudioRecord>(audioKey);
    if (!record || record.pieces === null) continue;
    const blob = await getAudio(audioKey);
    if (!blob) continue;
    await storeSoundFile(audioKey, blob);
    await putAudioRecord(audioKey, record.size);
    await removePieces(audioKey, record.pieces);
    moved++;
  }
  return moved;
}

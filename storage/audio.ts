import { storageError } from './failure';
import { audioStore } from './stores';

/** Bytes in one record: large enough to be few, small enough for progress and cancel. */
const PIECE = 32 * 1024 * 1024;

interface AudioRecord {
  readonly pieces: number;
  readonly size: number;
}

/** Sound this young may belong to an import that has not reached its project yet, in this window or another. */
const FRESH_MS = 60 * 60 * 1000;

/** A new key; it tells when it was made. */
export function newAudioKey(random: string): string {
  return `${Date.now().toString(36)}-${random}`;
}

const isFresh = (audioKey: string): boolean => Date.now() - parseInt(audioKey, 36) < FRESH_MS;

const pieceKey = (audioKey: string, index: number): string => `${audioKey}/${index}`;

/**
 * Keeps sound under a key, piece by piece.
 * @returns whether it is kept; `false` when the signal was aborted, then nothing of it stays
 * @throws StorageError when the browser refuses
 */
export async function putAudio(
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
    throw storageError(error);
  }
  await removePieces(audioKey, pieces);
  return false;
}

/** The sound kept under a key as one Blob, read lazily; `null` when it is not there or not whole. */
export async function getAudio(audioKey: string): Promise<Blob | null> {
  const record = await audioStore.getItem<AudioRecord>(audioKey);
  if (!record) return null;
  const pieces = await Promise.all(
    Array.from({ length: record.pieces }, (_, index) => audioStore.getItem<Blob>(pieceKey(audioKey, index))),
  );
  const there = pieces.filter((piece) => piece !== null);
  const blob = new Blob(there);
  return there.length === record.pieces && blob.size === record.size ? blob : null;
}

async function removePieces(audioKey: string, pieces: number): Promise<void> {
  for (let index = 0; index < pieces; index++) await audioStore.removeItem(pieceKey(audioKey, index));
}

/** Forgets sound that none of the given keys names, whole or half-kept, unless it has just come in. */
export async function removeAudioExcept(wanted: ReadonlySet<string>): Promise<void> {
  for (const key of await audioStore.keys()) {
    const audioKey = key.split('/')[0]!;
    if (!wanted.has(audioKey) && !isFresh(audioKey)) await audioStore.removeItem(key);
  }
}

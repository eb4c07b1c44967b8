import { keptRecords, readRecords, type HandedRecord } from '@/core/deliver/handedRecords';
import { storageError } from './failure';
import { handoverStore } from './stores';

/** What was handed over of a project. */
export async function loadHandover(id: string): Promise<readonly HandedRecord[]> {
  return readRecords(await handoverStore.getItem(id));
}

/** Keeps what was handed over of a project. @throws StorageError when the browser refuses */
export async function saveHandover(id: string, records: readonly HandedRecord[]): Promise<void> {
  try {
    await handoverStore.setItem(id, keptRecords(records));
  } catch (error) {
    throw storageError(error);
  }
}

export const removeHandover = (id: string): Promise<void> => handoverStore.removeItem(id);

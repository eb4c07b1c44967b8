import { settingsStore } from './stores';

/** A list that was kept: what of it can be read, and what cannot, which is kept all the same. */
export interface KeptList<T> {
  readonly items: readonly T[];
  readonly unreadable: readonly unknown[];
}

async function raw(key: string): Promise<readonly unknown[]> {
  const stored: unknown = await settingsStore.getItem(key);
  if (stored === null || stored === undefined) return [];
  return Array.isArray(stored) ? stored : [stored];
}

/** @param is whether an entry is what it should be */
export async function readList<T>(key: string, is: (value: unknown) => value is T): Promise<KeptList<T>> {
  const all = await raw(key);
  return { items: all.filter(is), unreadable: all.filter((value) => !is(value)) };
}

/** Changes the entries that can be read; the others stay. */
export async function changeList<T>(
  key: string,
  is: (value: unknown) => value is T,
  change: (items: readonly T[]) => readonly T[],
): Promise<T[]> {
  const { items, unreadable } = await readList(key, is);
  const next = change(items);
  await settingsStore.setItem(key, [...next, ...unreadable]);
  return [...next];
}

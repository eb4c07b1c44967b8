import type { ColumnSizingState, ColumnVisibilityState, SortingState } from '@tanstack/react-table';
import { array, boolean, number, object, string } from 'yup';
import { useStore } from 'zustand';
import { createStore, type StoreApi } from 'zustand/vanilla';
import { getPreference, putPreference } from '@/storage/preferences';
import { recordOf } from '../recordOf';

/** Columns are never narrower or wider than this, CSS pixels. */
export const NARROWEST = 28;
export const WIDEST = 900;

/** How a table is set: by what it is sorted, which columns are shown, and how wide they are. */
export interface TableState {
  readonly sorting: SortingState;
  readonly columnVisibility: ColumnVisibilityState;
  readonly columnSizing: ColumnSizingState;
}

const stored = object({
  sorting: array(object({ id: string().required(), desc: boolean().required() }))
    .required()
    .max(1),
  columnVisibility: recordOf(boolean().required()),
  columnSizing: recordOf(number().required().min(NARROWEST).max(WIDEST)),
});

const stores = new Map<string, StoreApi<TableState>>();

/** The store of a table; what was saved of it is read once. */
function storeOf(name: string, plain: TableState): StoreApi<TableState> {
  const known = stores.get(name);
  if (known) return known;
  const store = createStore<TableState>(() => plain);
  stores.set(name, store);
  // What cannot be read, or no longer fits, is no loss: the table starts as it was designed.
  void getPreference(`table-${name}`)
    .then((saved) => {
      if (stored.isValidSync(saved, { strict: true })) store.setState(saved as TableState);
    })
    .catch(() => undefined);
  return store;
}

/** How a table is set, and a way to change it, which is saved. @param name of the table, the same wherever it stands */
export function useTableState(
  name: string,
  plain: TableState,
): readonly [TableState, (change: Partial<TableState>) => void] {
  const store = storeOf(name, plain);
  const state = useStore(store);
  const change = (next: Partial<TableState>): void => {
    store.setState(next);
    void putPreference(`table-${name}`, store.getState()).catch(() => undefined);
  };
  return [state, change];
}

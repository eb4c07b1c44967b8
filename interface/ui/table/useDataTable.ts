import {
  columnSizingFeature,
  columnVisibilityFeature,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type ReactTable,
  type Updater,
} from '@tanstack/react-table';
import { useMemo } from 'react';
import { compareValues, type DataColumn } from './column';
import { NARROWEST, useTableState, WIDEST, type TableState } from './tableState';

const features = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  columnSizingFeature,
  sortedRowModel: createSortedRowModel(),
});

/** Rows as they come, every column shown as wide as it was designed. */
const PLAIN: TableState = { sorting: [], columnVisibility: {}, columnSizing: {} };

interface Asked<T> {
  /** Of the table, the same wherever it stands: by it the state is saved. */
  readonly name: string;
  readonly columns: readonly DataColumn<T>[];
  /** A new list whenever anything by which rows are sorted may have changed. */
  readonly rows: readonly T[];
  readonly keyOf: (row: T) => string;
  /** By what rows are sorted until somebody sorts them. */
  readonly sortedBy?: string;
  /** The largest first, then. */
  readonly sortedDown?: true;
}

/** A table as it is set: what is drawn, and what can be done to it. */
export interface DataTableModel<T> {
  /** Those shown, from left to right. */
  readonly columns: readonly DataColumn<T>[];
  /** All of them that can be hidden, with whether they are. */
  readonly choices: readonly { readonly column: DataColumn<T>; readonly shown: boolean }[];
  /** As they are sorted. */
  readonly rows: readonly T[];
  readonly keyOf: (row: T) => string;
  readonly sorting: { readonly id: string; readonly down: boolean } | null;
  /** As in `grid-template-columns`. */
  readonly grid: string;
  /** Under which it scrolls sideways, CSS pixels, gaps not counted. */
  readonly leastWidth: number;
  readonly widthOf: (id: string) => number;
  /** Sorts by a column, the other way round when it is already. */
  readonly sort: (id: string) => void;
  readonly show: (id: string, shown: boolean) => void;
  /** @param width CSS pixels; `null` as it was designed */
  readonly resize: (id: string, width: number | null) => void;
  /** Every column shown, as wide as it was designed. */
  readonly reset: () => void;
  readonly changed: boolean;
}

const nextOf = <S>(updater: Updater<S>, before: S): S =>
  typeof updater === 'function' ? (updater as (now: S) => S)(before) : updater;

/** Sorts rows, and chooses and sizes columns; what is set is saved under the table's name. */
export function useDataTable<T extends object>(asked: Asked<T>): DataTableModel<T> {
  const { name, columns, rows, keyOf, sortedBy, sortedDown = false } = asked;
  const plain = useMemo(
    (): TableState =>
      sortedBy === undefined ? PLAIN : { ...PLAIN, sorting: [{ id: sortedBy, desc: sortedDown }] },
    [sortedBy, sortedDown],
  );
  const [saved, change] = useTableState(name, plain);
  const asHidden = columns
    .filter(({ hidden }) => hidden)
    .map(({ id }) => id)
    .join(' ');
  // Columns that are shown only when asked for, unless it was asked or said otherwise.
  const state = useMemo((): TableState => {
    const hidden = Object.fromEntries(asHidden.split(' ').map((id) => [id, false]));
    return { ...saved, columnVisibility: { ...(asHidden === '' ? {} : hidden), ...saved.columnVisibility } };
  }, [saved, asHidden]);
  const ids = columns.map(({ id }) => id).join(' ');
  // Rows are new whenever what they are sorted by is: so the columns stay while only their cells look different.
  const definitions = useMemo(
    () =>
      columns.map(({ id, order, size, fixed }): ColumnDef<typeof features, T> => ({
        id,
        accessorFn: (row) => order?.(row) ?? undefined,
        size,
        minSize: NARROWEST,
        maxSize: WIDEST,
        enableSorting: order !== undefined,
        enableHiding: !fixed,
        sortUndefined: 'last',
        sortFn: (a, b, column) => compareValues(a.getValue(column), b.getValue(column)),
      })),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- see above
    [ids, rows],
  );
  const table: ReactTable<typeof features, T> = useTable({
    features,
    columns: definitions,
    data: rows as T[],
    getRowId: keyOf,
    enableMultiSort: false,
    enableSortingRemoval: false,
    sortDescFirst: false,
    state,
    onSortingChange: (next) => change({ sorting: nextOf(next, state.sorting) }),
    onColumnVisibilityChange: (next) => change({ columnVisibility: nextOf(next, state.columnVisibility) }),
    onColumnSizingChange: (next) => change({ columnSizing: nextOf(next, state.columnSizing) }),
  });
  const sortedRows = table.getRowModel().rows;
  const inOrder = useMemo(() => sortedRows.map(({ original }) => original), [sortedRows]);
  const shown = columns.filter(({ id }) => table.getColumn(id)?.getIsVisible() ?? true);
  const widthOf = (id: string): number => table.getColumn(id)?.getSize() ?? NARROWEST;
  const [sorted] = state.sorting;
  return {
    columns: shown,
    choices: columns.flatMap((column) =>
      column.fixed ? [] : [{ column, shown: state.columnVisibility[column.id] !== false }],
    ),
    rows: inOrder,
    keyOf,
    sorting: sorted ? { id: sorted.id, down: sorted.desc } : null,
    grid: shown
      .map(({ id, grow }) =>
        grow === undefined || id in state.columnSizing
          ? `${widthOf(id)}px`
          : `minmax(${widthOf(id)}px, ${grow}fr)`,
      )
      .join(' '),
    leastWidth: shown.reduce((sum, { id }) => sum + widthOf(id), 0),
    widthOf,
    sort: (id) => table.getColumn(id)?.toggleSorting(),
    show: (id, on) => table.getColumn(id)?.toggleVisibility(on),
    resize: (id, width) => {
      if (width === null) table.getColumn(id)?.resetSize();
      else
        table.setColumnSizing((now) => ({
          ...now,
          [id]: Math.round(Math.max(NARROWEST, Math.min(WIDEST, width))),
        }));
    },
    reset: () => change({ columnVisibility: {}, columnSizing: {} }),
    changed: Object.keys(saved.columnSizing).length > 0 || Object.keys(saved.columnVisibility).length > 0,
  };
}

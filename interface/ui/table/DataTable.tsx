'use client';

import Box from '@mui/material/Box';
import { useVirtualizer, type Virtualizer } from '@tanstack/react-virtual';
import { useRef, type HTMLAttributes, type ReactNode, type RefObject } from 'react';
import { fitOf, sideOf } from './column';
import { TableHead } from './TableHead';
import type { DataTableModel } from './useDataTable';

/** Between two columns, in steps of the theme and in CSS pixels. */
const GAP = 1;
const GAP_PIXELS = 8;
const SIDE_PIXELS = 10;

const LINE = 'line';
const cellOf = (column: number): string => `cell-${column}`;

/** An element that is styled only where it has a look of its own, which goes before that of its column. */
function Plain({ sx, ...rest }: HTMLAttributes<HTMLDivElement> & { sx?: object | undefined }) {
  return sx ? <Box {...rest} sx={{ '&&&&': sx }} /> : <div {...rest} />;
}

/** Attributes and looks of a row. */
type RowProps = Pick<HTMLAttributes<HTMLElement>, 'id' | 'onClick' | 'aria-selected'> & {
  readonly [data: `data-${string}`]: string;
} & { readonly sx?: object };

/** The rows of a table that is on screen. */
export type RowList = Virtualizer<HTMLDivElement, Element>;

interface Props<T extends object> {
  readonly label: string;
  readonly model: DataTableModel<T>;
  /** Height of a row, CSS pixels. */
  readonly rowHeight: number;
  readonly rowProps: (row: T, index: number) => RowProps;
  /** What stands under a row; where any does, rows have heights of their own. */
  readonly details?: (row: T) => ReactNode;
  /** In place of rows, where there are none. */
  readonly empty?: ReactNode;
  /** A grid is walked by keys; a table is read. */
  readonly role?: 'table' | 'grid';
  /** Attributes of the element that scrolls. */
  readonly attributes?: HTMLAttributes<HTMLDivElement> & { readonly [data: `data-${string}`]: unknown };
  readonly scroller?: RefObject<HTMLDivElement | null>;
  /** Told the list of rows, to scroll it. */
  readonly listRef?: RefObject<RowList | null>;
}

/** A table of any number of rows, of which only those in sight are built. */
export function DataTable<T extends object>(props: Props<T>) {
  const { label, model, rowHeight, rowProps, details, empty, role = 'table', attributes, listRef } = props;
  const own = useRef<HTMLDivElement>(null);
  const scroller = props.scroller ?? own;
  const { rows, columns, keyOf } = model;
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    getItemKey: (index) => keyOf(rows[index]!),
    overscan: 8,
  });
  if (listRef) listRef.current = list;
  const grid = {
    display: 'grid',
    gridTemplateColumns: model.grid,
    columnGap: GAP,
    px: `${SIDE_PIXELS}px`,
    minWidth: model.leastWidth + (columns.length - 1) * GAP_PIXELS + 2 * SIDE_PIXELS,
  };
  // Said once for all rows: a look of its own for each of their cells took longer than the rest of them.
  const looks = {
    position: 'relative',
    [`& > * > .${LINE}`]: {
      ...{ ...grid, height: rowHeight, alignItems: 'center', borderBottom: 1, borderColor: 'divider' },
    },
    ...Object.fromEntries(
      columns.map((column, i) => [
        `& > * > .${LINE} > .${cellOf(i)}`,
        { minWidth: 0, ...fitOf(column), ...sideOf(column) },
      ]),
    ),
  };
  return (
    <Box
      tabIndex={0}
      {...attributes}
      ref={scroller}
      role={role}
      aria-label={label}
      aria-rowcount={rows.length + 1}
      aria-colcount={columns.length}
      // What is scrolled into sight does not hide under the head of the table.
      sx={{ flex: 1, minHeight: 0, overflow: 'auto', fontSize: 12.5, scrollPaddingTop: '40px' }}
    >
      <TableHead model={model} sx={grid} />
      <Box role="rowgroup" sx={looks} style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map((item) => {
          const row = rows[item.index]!;
          const { sx, ...rest } = rowProps(row, item.index);
          const line = (
            <Plain role="row" aria-rowindex={item.index + 2} {...rest} className={LINE} sx={sx}>
              {columns.map((column, i) => {
                const { sx: look, ...cell } = column.cellProps?.(row) ?? {};
                return (
                  <Plain
                    key={column.id}
                    role={role === 'grid' ? 'gridcell' : 'cell'}
                    data-cell={column.id}
                    {...cell}
                    className={cellOf(i)}
                    sx={look}
                  >
                    {column.cell(row)}
                  </Plain>
                );
              })}
            </Plain>
          );
          const more = details?.(row);
          return (
            <Box
              role="presentation"
              key={item.key}
              ref={details && list.measureElement}
              data-index={item.index}
              sx={{ position: 'absolute', left: 0, right: 0 }}
              style={{ transform: `translateY(${item.start}px)` }}
            >
              {line}
              {more && (
                <Box role="row" sx={{ borderBottom: 1, borderColor: 'divider' }}>
                  <Box role={role === 'grid' ? 'gridcell' : 'cell'}>{more}</Box>
                </Box>
              )}
            </Box>
          );
        })}
      </Box>
      {rows.length === 0 && empty}
    </Box>
  );
}

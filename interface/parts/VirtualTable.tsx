'use client';

import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, type ReactNode } from 'react';

/** A column: what it is called, how wide it is in the grid, and what it says of a row. */
export interface TableColumn<T> {
  readonly heading: string;
  /** As in `grid-template-columns`. */
  readonly width: string;
  readonly cell: (row: T) => ReactNode;
  readonly right?: true;
  /** The whole of what may be cut off. */
  readonly title?: (row: T) => string;
  /** A sentence: set apart from the figures before it, over two lines where it needs them. */
  readonly sentence?: true;
  readonly sx?: object | ((row: T) => object);
  /** What the column is called for those who do not see it, where there is no room for a heading. */
  readonly spoken?: string;
}

interface Props<T> {
  readonly label: string;
  readonly rows: readonly T[];
  readonly columns: readonly TableColumn<T>[];
  readonly rowHeight: number;
  readonly keyOf: (row: T) => string;
  /** Attributes and looks of a row. */
  readonly rowProps: (row: T) => { readonly [data: `data-${string}`]: string; readonly sx?: object };
}

const CUT_OFF = { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' } as const;

const TWO_LINES = {
  fontSize: 12,
  lineHeight: '15px',
  overflow: 'hidden',
  display: '-webkit-box',
  WebkitLineClamp: 2,
  WebkitBoxOrient: 'vertical',
} as const;

/** A table of any number of rows, of which only those in sight are built. */
export function VirtualTable<T>({ label, rows, columns, rowHeight, keyOf, rowProps }: Props<T>) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    getItemKey: (index) => keyOf(rows[index]!),
    overscan: 6,
  });
  const grid = {
    display: 'grid',
    gridTemplateColumns: columns.map(({ width }) => width).join(' '),
    columnGap: 1,
    px: 1.5,
  };
  const side = ({ right, sentence }: TableColumn<T>) => ({
    ...(right && { textAlign: 'right' }),
    ...(sentence && { pl: 1 }),
  });
  return (
    <Box
      ref={scroller}
      role="table"
      aria-label={label}
      aria-rowcount={rows.length}
      tabIndex={0}
      sx={{ flex: 1, minHeight: 0, overflow: 'auto', fontSize: 12.5, borderTop: 1, borderColor: 'divider' }}
    >
      <Box role="rowgroup" sx={{ position: 'sticky', top: 0, zIndex: 1, bgcolor: 'background.paper' }}>
        <Box role="row" sx={{ ...grid, py: 0.5, fontSize: 11, color: 'text.secondary' }}>
          {columns.map((column) => (
            <Box
              key={column.heading}
              role="columnheader"
              aria-label={column.spoken}
              sx={{ ...(typeof column.sx === 'function' ? {} : column.sx), ...side(column), fontWeight: 450 }}
            >
              {column.heading}
            </Box>
          ))}
        </Box>
      </Box>
      <Box role="rowgroup" sx={{ position: 'relative' }} style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map((item) => {
          const row = rows[item.index]!;
          const { sx, ...data } = rowProps(row);
          return (
            <Box
              role="row"
              key={item.key}
              {...data}
              sx={{
                ...grid,
                position: 'absolute',
                left: 0,
                right: 0,
                height: rowHeight,
                alignItems: 'center',
                borderBottom: 1,
                borderColor: 'divider',
                ...sx,
              }}
              style={{ transform: `translateY(${item.start}px)` }}
            >
              {columns.map((column) => (
                <Box
                  key={column.heading}
                  role="cell"
                  title={column.title?.(row)}
                  sx={{
                    ...(column.sentence ? TWO_LINES : column.title && CUT_OFF),
                    ...(typeof column.sx === 'function' ? column.sx(row) : column.sx),
                    ...side(column),
                  }}
                >
                  {column.cell(row)}
                </Box>
              ))}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

'use client';

import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import type { KeyboardEvent } from 'react';
import { useGesture } from '../../editing/useGesture';
import { sideOf, type DataColumn } from './column';
import type { DataTableModel } from './useDataTable';

/** By one press of a key, CSS pixels. */
const STEP = 12;

/** The right edge of a heading: dragged, it sets how wide the column is; a double click makes it as it was designed. */
function Edge<T extends object>({ model, column }: { model: DataTableModel<T>; column: DataColumn<T> }) {
  const { id } = column;
  const bind = useGesture((event) => {
    event.stopPropagation();
    event.preventDefault();
    const head = event.currentTarget.parentElement!;
    const [start, width] = [event.clientX, head.getBoundingClientRect().width];
    const before = model.widthOf(id);
    return {
      move: ({ clientX }) => model.resize(id, width + clientX - start),
      finish: () => undefined,
      cancel: () => model.resize(id, before === column.size ? null : before),
    };
  });
  return (
    <Box
      aria-hidden
      {...bind()}
      data-edge-of={id}
      title="Drag to set the width; double click for the usual one"
      onDoubleClick={() => model.resize(id, null)}
      sx={{
        position: 'absolute',
        top: 0,
        bottom: 0,
        right: -7,
        width: 9,
        cursor: 'col-resize',
        touchAction: 'none',
        '&::after': { content: '""', position: 'absolute', top: 5, bottom: 5, left: 4, width: '1px' },
        '&:hover::after': { bgcolor: 'text.secondary' },
      }}
    />
  );
}

function Heading<T extends object>({ model, column }: { model: DataTableModel<T>; column: DataColumn<T> }) {
  const { id, heading, hint, order } = column;
  const here = model.sorting?.id === id;
  const onKeyDown = (event: KeyboardEvent): void => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (way === undefined || !event.shiftKey) return;
    event.preventDefault();
    event.stopPropagation();
    model.resize(id, model.widthOf(id) + way * STEP);
  };
  if (!order || heading === '') return column.head ?? heading;
  return (
    <Tooltip
      // Above: under it lies the first row, with what can be pressed there.
      placement="top"
      title={`${hint && hint !== heading ? `${heading}: ${hint}` : heading}. A press sorts; Shift and ← or → set the width.`}
    >
      <Box
        component="button"
        data-sort={id}
        onClick={() => model.sort(id)}
        onKeyDown={onKeyDown}
        sx={{
          font: 'inherit',
          fontWeight: here ? 650 : 'inherit',
          color: here ? 'text.primary' : 'inherit',
          border: 0,
          bgcolor: 'transparent',
          cursor: 'pointer',
          p: 0,
          textAlign: 'inherit',
        }}
      >
        {heading}
        {here && (model.sorting?.down ? ' ↓' : ' ↑')}
      </Box>
    </Tooltip>
  );
}

/** The headings of a table: a press sorts, another turns the order round, an edge sets the width. */
export function TableHead<T extends object>({ model, sx }: { model: DataTableModel<T>; sx: object }) {
  return (
    <Box
      role="rowgroup"
      sx={{
        position: 'sticky',
        top: 0,
        zIndex: 2,
        bgcolor: 'background.paper',
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <Box
        role="row"
        aria-rowindex={1}
        sx={{ ...sx, py: 0.5, fontSize: 11.5, fontWeight: 500, lineHeight: 1.2, color: 'text.secondary' }}
      >
        {model.columns.map((column) => (
          <Box
            key={column.id}
            role="columnheader"
            aria-label={column.heading === '' ? column.spoken : undefined}
            aria-sort={
              column.order &&
              (model.sorting?.id === column.id ? (model.sorting.down ? 'descending' : 'ascending') : 'none')
            }
            sx={{ ...sideOf(column), position: 'relative', minWidth: 0 }}
          >
            <Heading model={model} column={column} />
            {column.heading !== '' && <Edge model={model} column={column} />}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

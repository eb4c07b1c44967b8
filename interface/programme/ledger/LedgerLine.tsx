'use client';

import Box from '@mui/material/Box';
import type { MouseEvent } from 'react';
import type { LedgerRow } from '@/core/proposals/ledger';
import type { Id } from '@/core/programme/model';
import { LevelMark, type Standing } from '../../parts/LevelMark';
import { AfterCell, GainCell } from './cells';
import { gridOf, type Column, type RowContext } from './columns';

export const ROW_HEIGHT = 27;

const MARKS: Readonly<Record<LedgerRow['state'], Standing>> = {
  off: 'unknown',
  ceiling: 'over',
  stale: 'unknown',
  byHand: 'unknown',
  right: 'within',
  silent: 'unknown',
  short: 'unknown',
  notMeasured: 'unknown',
};

/** The shape beside a state: which way an off clip is off is seen at once. */
function markOf({ state, level }: LedgerRow): Standing {
  return state === 'off' ? level.standing : MARKS[state];
}

interface Props {
  readonly columns: readonly Column[];
  readonly row: LedgerRow;
  readonly index: number;
  readonly top: number;
  readonly context: RowContext;
  readonly selected: boolean;
  readonly current: boolean;
  readonly editing: 'gain' | 'after' | null;
  readonly onChoose: (event: MouseEvent, id: Id) => void;
  readonly onEdit: (cell: 'gain' | 'after') => void;
  readonly onDone: () => void;
}

/** One clip of the ledger. */
export function LedgerLine(props: Props) {
  const { columns, row, index, top, context, selected, current, editing, onChoose, onEdit, onDone } = props;
  const { clip } = row.entry;
  return (
    <Box
      role="row"
      id={`ledger-${clip.id}`}
      aria-rowindex={index + 2}
      aria-selected={selected}
      data-ledger={clip.name}
      data-state={row.state}
      onClick={(event) => onChoose(event, clip.id)}
      sx={{
        position: 'absolute',
        left: 0,
        right: 0,
        minWidth: 900,
        height: ROW_HEIGHT,
        display: 'grid',
        gridTemplateColumns: gridOf(columns),
        columnGap: 0.75,
        px: 1,
        alignItems: 'center',
        borderBottom: 1,
        borderColor: 'divider',
        cursor: 'default',
        userSelect: 'none',
        bgcolor: selected ? 'sheet.band' : undefined,
        outline: current ? '1.5px solid' : undefined,
        outlineColor: 'primary.main',
        outlineOffset: -2,
        '& > div': { overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' },
      }}
      style={{ transform: `translateY(${top}px)` }}
    >
      {columns.map((column) => {
        const text = column.text(row, context);
        const editable = column.id === 'gain' || column.id === 'after' ? column.id : null;
        if (editable !== null && editing === editable)
          return (
            <Box role="gridcell" key={column.id} data-cell={column.id}>
              {editable === 'gain' ? (
                <GainCell clip={clip} onDone={onDone} />
              ) : (
                <AfterCell row={row} onDone={onDone} />
              )}
            </Box>
          );
        return (
          <Box
            role="gridcell"
            key={column.id}
            data-cell={column.id}
            title={column.left ? text : undefined}
            onDoubleClick={editable ? () => onEdit(editable) : undefined}
            onClick={(event) => {
              // A press on a figure of a row that is chosen types into it.
              if (!editable || !selected || event.ctrlKey || event.metaKey || event.shiftKey) return;
              event.stopPropagation();
              onEdit(editable);
            }}
            sx={{
              textAlign: column.left ? 'left' : 'right',
              ...(editable && {
                fontWeight: 600,
                cursor: 'text',
                borderRadius: 0.5,
                px: 0.25,
                '&:hover': { bgcolor: 'background.paper' },
              }),
              ...(column.id === 'name' && { fontWeight: 550 }),
            }}
          >
            {column.id === 'state' ? (
              <Box component="span" sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
                <LevelMark standing={markOf(row)} size={8} /> {text}
              </Box>
            ) : (
              text
            )}
          </Box>
        );
      })}
    </Box>
  );
}

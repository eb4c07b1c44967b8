import Box from '@mui/material/Box';
import type { LedgerRow } from '@/core/proposals/ledger';
import type { Id } from '@/core/programme/model';
import { LevelMark, type Standing } from '../../ui/LevelMark';
import type { DataColumn } from '../../ui/table/column';
import { AfterCell, GainCell } from './cells';
import type { LedgerColumn, ToldRow } from './columns';

/** Columns that are typed into. */
export type Editable = 'gain' | 'after';

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

interface Drawing {
  /** The cell that is typed into. */
  readonly editing: { readonly id: Id; readonly cell: Editable } | null;
  readonly isSelected: (id: Id) => boolean;
  readonly onEdit: (id: Id, cell: Editable) => void;
  readonly onDone: () => void;
}

const EDITABLE = {
  fontWeight: 600,
  cursor: 'text',
  borderRadius: 0.5,
  px: 0.25,
  '&:hover': { bgcolor: 'background.paper' },
} as const;

/** A column in which a figure is typed: by a double click, or by a press where the row is selected. */
function editable(column: LedgerColumn, cell: Editable, drawing: Drawing): DataColumn<ToldRow> {
  const { editing, isSelected, onEdit, onDone } = drawing;
  const edited = ({ entry }: ToldRow): boolean => editing?.id === entry.id && editing.cell === cell;
  return {
    ...column,
    cell: (row) => {
      if (!edited(row)) return column.text(row);
      return cell === 'gain' ? (
        <GainCell clip={row.entry.clip} onDone={onDone} />
      ) : (
        <AfterCell row={row} onDone={onDone} />
      );
    },
    cellProps: (row) =>
      edited(row)
        ? {}
        : {
            sx: EDITABLE,
            onDoubleClick: () => onEdit(row.entry.id, cell),
            onClick: (event) => {
              if (!isSelected(row.entry.id) || event.ctrlKey || event.metaKey || event.shiftKey) return;
              event.stopPropagation();
              onEdit(row.entry.id, cell);
            },
          },
  };
}

/** The ledger's columns as they are drawn. */
export function drawn(columns: readonly LedgerColumn[], drawing: Drawing): DataColumn<ToldRow>[] {
  return columns.map((column) => {
    const { id, text, right } = column;
    if (id === 'gain' || id === 'after') return editable(column, id, drawing);
    if (id === 'state')
      return {
        ...column,
        cell: (row) => (
          <Box component="span" sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
            <LevelMark standing={markOf(row)} size={8} /> {text(row)}
          </Box>
        ),
      };
    return {
      ...column,
      cell: text,
      cellProps: (row) => ({
        ...(!right && { title: text(row) }),
        ...(id === 'name' && { sx: { fontWeight: 550 } }),
      }),
    };
  });
}

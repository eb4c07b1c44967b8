'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import type { ReactNode } from 'react';
import type { ProposedRow } from '@/core/proposals/protocol';
import { figure, signed } from '@/core/text/figures';
import type { DataColumn } from '../../ui/table/column';
import { DataTable } from '../../ui/table/DataTable';
import { useDataTable, type DataTableModel } from '../../ui/table/useDataTable';
import { GainCell } from './GainCell';
import type { PickedRows } from './useRows';

/** What is shown of rows besides what all proposals have. */
export interface RowWords<R extends ProposedRow> {
  /** What a row is: “Clip”, “Source”. */
  readonly subject: string;
  /** The name of a row that no other has. */
  readonly nameOf?: (row: R) => string;
  /** Plays the row as proposed. */
  readonly hear?: (row: R) => ReactNode;
  /** Applies one row by itself. */
  readonly applyRow?: (row: R) => void;
  /** Columns of this kind of proposal alone, after the name. */
  readonly more?: readonly DataColumn<R>[];
  /** Columns that have nothing to say of this kind, by their ids. */
  readonly unused?: readonly string[];
}

const atCeiling = (row: ProposedRow): boolean => row.limitedBy !== null || row.passesCeiling;
const out = ({ skipped }: ProposedRow): boolean => skipped !== null;

/** Picks every row, or none. */
function PickAll<R extends ProposedRow>({ of }: { of: PickedRows<R> }) {
  const usable = of.rows.filter((row) => !out(row));
  return (
    <Checkbox
      size="small"
      disabled={usable.length === 0}
      checked={usable.length > 0 && of.picked.length === usable.length}
      indeterminate={of.picked.length > 0 && of.picked.length < usable.length}
      onChange={(event) =>
        of.leave(
          usable.map(({ id }) => id),
          !event.target.checked,
        )
      }
      slotProps={{ input: { 'aria-label': 'Apply to all' } }}
      sx={{ p: 0.25 }}
    />
  );
}

function columnsOf<R extends ProposedRow>(of: PickedRows<R>, words: RowWords<R>): DataColumn<R>[] {
  const { unit, gives } = of.proposal!;
  const { nameOf = ({ name }: R) => name, hear, applyRow, unused = [] } = words;
  const figures = (
    id: string,
    heading: string,
    value: (row: R) => number | null,
    text: (value: number | null) => string = figure,
  ): DataColumn<R> => ({
    ...{ id, heading, size: 58, right: true, order: value },
    cell: (row) => text(value(row)),
  });
  const columns: DataColumn<R>[] = [
    {
      ...{ id: 'pick', heading: '', spoken: 'Apply, hear', size: 52, fixed: true, head: <PickAll of={of} /> },
      cell: (row) => (
        <Box sx={{ display: 'flex' }}>
          <Checkbox
            size="small"
            disabled={out(row)}
            checked={!out(row) && !of.isLeft(row.id)}
            onChange={(event) => of.leave([row.id], !event.target.checked)}
            slotProps={{ input: { 'aria-label': `Apply to ${nameOf(row)}` } }}
            sx={{ p: 0.25 }}
          />
          {hear?.(row)}
        </Box>
      ),
    },
    {
      ...{ id: 'name', heading: words.subject, size: 130, grow: 0.4, fixed: true },
      order: nameOf,
      cell: ({ name }) => name,
      cellProps: (row) => ({ title: nameOf(row), sx: { fontWeight: 550 } }),
    },
    ...(words.more ?? []),
    figures('before', `Before ${unit}`, (row) => row.before),
    ...(gives === 'gain'
      ? [
          figures(
            'gain',
            'Gain now dB',
            (row) => row.gainBeforeDb,
            (db) => signed(db),
          ),
        ]
      : []),
    {
      ...{ id: 'proposed', heading: gives === 'gain' ? 'Proposed dB' : 'Change dB', size: 66 },
      ...{ right: true, fixed: true },
      order: (row) => row.gainAfterDb,
      cell: (row) => <GainCell row={row} of={of} name={nameOf(row)} />,
      cellProps: () => ({ sx: { fontWeight: 650 } }),
    },
    figures('after', `After ${unit}`, (row) => row.after),
    {
      ...{ id: 'peak', heading: 'Peak dBTP', size: 66, right: true },
      order: (row) => row.truePeakAfter,
      cell: ({ truePeakAfter, exactPeakAfter }) => (
        <>
          {figure(truePeakAfter)}
          {exactPeakAfter !== null && (
            <Box component="span" data-exact sx={{ display: 'block', fontSize: 11, color: 'text.secondary' }}>
              exact {figure(exactPeakAfter)}
            </Box>
          )}
        </>
      ),
      cellProps: ({ exactPeakAfter }) =>
        exactPeakAfter === null
          ? {}
          : { title: `True peak by BS.1770; the exact figure is ${figure(exactPeakAfter, 2)} dBTP` },
    },
    // Of a part, or of the programme as a whole, there is none.
    ...(gives === 'gain' ? [figures('floor', 'Floor LUFS', (row) => row.noiseFloorAfter)] : []),
    {
      ...{ id: 'why', heading: 'Why', size: 180, grow: 1, sentence: true, order: (row) => row.sentence },
      cell: (row) => (
        <>
          {atCeiling(row) ? '▲ ' : ''}
          {row.sentence}
          {row.warnings.length > 0 && (
            <Box component="span" data-warning sx={{ color: 'warning.main' }}>
              {' '}
              ! {row.warnings.join(' ')}
            </Box>
          )}
        </>
      ),
      cellProps: (row) => ({
        title: [row.sentence, ...row.warnings].join('\n'),
        sx: { color: atCeiling(row) ? 'level.over' : undefined },
      }),
    },
    ...(applyRow
      ? [
          {
            ...({ id: 'one', heading: '', spoken: 'Apply one', size: 62, fixed: true } as const),
            cell: (row: R) => (
              <Button
                disabled={out(row)}
                aria-label={`Apply ${nameOf(row)} alone`}
                onClick={() => applyRow(row)}
              >
                Apply
              </Button>
            ),
          },
        ]
      : []),
  ];
  return columns.filter(({ id }) => !unused.includes(id));
}

/** The rows of a proposal as a table is set for them. */
export function useProposalTable<R extends ProposedRow>(
  of: PickedRows<R>,
  words: RowWords<R>,
): DataTableModel<R> {
  return useDataTable({
    name: `proposal ${words.subject.toLowerCase()}`,
    columns: of.proposal ? columnsOf(of, words) : [],
    rows: of.rows,
    keyOf: ({ id }) => id,
  });
}

/** A proposal, row by row: before, the gain, after, and the reason in a sentence. */
export function ProposalTable<R extends ProposedRow>({
  model,
  of,
}: {
  model: DataTableModel<R>;
  of: PickedRows<R>;
}) {
  return (
    <DataTable
      label="Proposal"
      model={model}
      rowHeight={36}
      rowProps={(row) => ({
        'data-proposal': row.name,
        'data-limited': row.limitedBy ?? '',
        sx: { color: out(row) || of.isLeft(row.id) ? 'text.secondary' : undefined },
      })}
    />
  );
}

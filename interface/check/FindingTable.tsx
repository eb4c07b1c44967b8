'use client';

import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import { memo, useMemo, useRef, type KeyboardEvent } from 'react';
import { FINDING_NAMES } from '@/core/check/findings/finding';
import type { FixRow } from '@/core/proposals/fixes/fixProposal';
import type { DataColumn } from '../ui/table/column';
import { DataTable, type RowList } from '../ui/table/DataTable';
import { useDataTable } from '../ui/table/useDataTable';
import { findingColumns } from './findingColumns';
import { useLookedProgramme } from './looked';
import type { PickedFixes } from './usePicked';

const ROW_HEIGHT = 40;

interface Props {
  readonly of: PickedFixes;
  /** Those shown. */
  readonly rows: readonly FixRow[];
  readonly selected: string | null;
  readonly onSelect: (id: string) => void;
  /** What is said when there is nothing. */
  readonly empty: string;
}

/** Where a row’s fix stands. */
function FixCell({ row }: { row: FixRow }) {
  const { mend, accepted } = row;
  if (accepted)
    return (
      <Box component="span" data-accepted>
        Accepted{accepted.note === '' ? '' : `: ${accepted.note}`}
      </Box>
    );
  if (!mend)
    return (
      <Box component="span" sx={{ color: 'text.secondary' }}>
        …
      </Box>
    );
  if ('remedy' in mend)
    return (
      <Box component="span" data-remedy sx={{ color: 'text.secondary' }}>
        {mend.remedy}
      </Box>
    );
  return (
    <Box component="span" data-fix={mend.fix.change.kind}>
      {mend.fix.sentence}
    </Box>
  );
}

/** Everything that was found, a row each: what, where, how much, and its smallest fix. */
export const FindingTable = memo(function FindingTable({ of, rows, selected, onSelect, empty }: Props) {
  const looked = useLookedProgramme();
  const list = useRef<RowList>(null);
  const columns: readonly DataColumn<FixRow>[] = [
    {
      ...{ id: 'pick', heading: '', spoken: 'Apply', size: 30, fixed: true },
      cell: (row) => (
        <Checkbox
          size="small"
          disabled={row.skipped !== null}
          checked={row.skipped === null && of.isPicked(row.id)}
          onChange={(event) => of.pick(row.id, event.target.checked)}
          slotProps={{
            input: {
              'aria-label': `Mend ${FINDING_NAMES[row.finding.kind]} at ${looked.place(row.finding.from)}`,
            },
          }}
          sx={{ p: 0.25 }}
        />
      ),
    },
    ...findingColumns<FixRow>(looked),
    {
      ...{ id: 'fix', heading: 'Smallest fix', size: 190, grow: 1.1, sentence: true },
      cell: (row) => <FixCell row={row} />,
      cellProps: (row) => ({ title: row.sentence }),
    },
  ];
  const model = useDataTable({ name: 'findings', columns, rows, keyOf: ({ id }) => id });
  const at = model.rows.findIndex(({ id }) => id === selected);
  const onKeyDown = (event: KeyboardEvent): void => {
    if ((event.target as HTMLElement).closest('input, button')) return;
    const by = { ArrowDown: 1, ArrowUp: -1, Home: -1e9, End: 1e9 }[event.key];
    if (by !== undefined) {
      event.preventDefault();
      event.stopPropagation();
      const next = Math.max(0, Math.min(model.rows.length - 1, at < 0 ? 0 : at + by));
      const row = model.rows[next];
      if (!row) return;
      onSelect(row.id);
      list.current?.scrollToIndex(next);
    }
    if (event.key === 'Enter' && at >= 0) {
      event.preventDefault();
      of.pick(model.rows[at]!.id, !of.isPicked(model.rows[at]!.id));
    }
  };
  const activeId = useMemo(
    () => (selected === null ? undefined : `finding-${CSS.escape(selected)}`),
    [selected],
  );
  return (
    <DataTable
      label="Findings"
      role="grid"
      model={model}
      rowHeight={ROW_HEIGHT}
      listRef={list}
      empty={<Box sx={{ p: 2, color: 'text.secondary' }}>{empty}</Box>}
      attributes={{ onKeyDown, 'aria-activedescendant': activeId }}
      rowProps={(row) => ({
        id: `finding-${CSS.escape(row.id)}`,
        'data-finding': row.finding.kind,
        'data-weight': row.finding.weight,
        'aria-selected': row.id === selected,
        onClick: () => onSelect(row.id),
        sx: {
          cursor: 'default',
          ...(row.id === selected && { bgcolor: 'action.selected' }),
          ...(row.accepted && { color: 'text.secondary' }),
        },
      })}
    />
  );
});

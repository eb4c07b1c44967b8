'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { useMemo, useRef, type KeyboardEvent } from 'react';
import { FINDING_NAMES } from '@/core/check/findings/finding';
import type { FixRow } from '@/core/proposals/fixes/fixProposal';
import { placeText } from '@/core/programme/timeText';
import { figure } from '@/core/text/figures';
import { useSession, useSessionState } from '../session/SessionContext';
import { LevelMark } from '../ui/LevelMark';
import type { DataColumn } from '../ui/table/column';
import { DataTable, type RowList } from '../ui/table/DataTable';
import { useDataTable } from '../ui/table/useDataTable';
import type { PickedFixes } from './usePicked';

const ROW_HEIGHT = 40;

/** A value with its unit, as short as it can be told. */
export const sizeWords = (value: number | null, unit: string): string =>
  value === null
    ? '—'
    : unit === 'samples'
      ? `${figure(value, 0)} samples`
      : `${figure(value, unit === '' ? 2 : 1)} ${unit}`.trim();

interface Props {
  readonly of: PickedFixes;
  /** Those shown. */
  readonly rows: readonly FixRow[];
  readonly selected: string | null;
  readonly onSelect: (id: string) => void;
  /** What stands there when there is nothing. */
  readonly empty: React.ReactNode;
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
export function FindingTable({ of, rows, selected, onSelect, empty }: Props) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const list = useRef<RowList>(null);
  const place = (seconds: number): string => placeText(project, Math.round(seconds * project.sampleRate), 1);
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
            input: { 'aria-label': `Mend ${FINDING_NAMES[row.finding.kind]} at ${place(row.finding.from)}` },
          }}
          sx={{ p: 0.25 }}
        />
      ),
    },
    {
      ...{ id: 'kind', heading: 'Finding', size: 132, fixed: true },
      order: ({ finding }) => `${finding.weight} ${FINDING_NAMES[finding.kind]}`,
      cell: ({ finding }) => (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
          <LevelMark standing={finding.weight === 'breaks' ? 'over' : 'unknown'} />
          <Box sx={{ minWidth: 0, lineHeight: '15px' }}>
            <Box sx={{ fontWeight: 600 }}>{FINDING_NAMES[finding.kind]}</Box>
            <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
              {finding.weight === 'breaks' ? 'breaks a limit' : 'worth a look'}
            </Box>
          </Box>
        </Box>
      ),
    },
    {
      ...{
        id: 'where',
        heading: 'Where',
        size: 100,
        order: ({ finding }) => (finding.whole ? -1 : finding.from),
      },
      cell: ({ finding }) =>
        finding.whole ? (
          'all of it'
        ) : (
          <Button
            color="inherit"
            tabIndex={-1}
            aria-label={`Go to ${place(finding.from)}`}
            onClick={() => session.listening.seek(finding.from * project.sampleRate)}
            sx={{
              p: 0,
              minWidth: 0,
              fontWeight: 450,
              textDecoration: 'underline',
              lineHeight: '15px',
              textAlign: 'left',
            }}
          >
            {place(finding.from)}
            {finding.to - finding.from >= 0.05 && <> – {place(finding.to)}</>}
          </Button>
        ),
    },
    {
      ...{ id: 'size', heading: 'Size', size: 98, right: true, order: ({ finding }) => finding.value },
      cell: ({ finding }) => (
        <>
          {sizeWords(finding.value, finding.unit)}
          {finding.limit !== null && (
            <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
              limit {sizeWords(finding.limit, finding.unit)}
            </Box>
          )}
        </>
      ),
      cellProps: () => ({ sx: { lineHeight: '15px' } }),
    },
    {
      ...{ id: 'what', heading: 'What is there', size: 170, grow: 1, sentence: true },
      cell: ({ finding }) => finding.sentence,
      cellProps: ({ finding }) => ({ title: finding.sentence }),
    },
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
      empty={empty}
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
}

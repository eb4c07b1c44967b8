'use client';

import CancelIcon from '@mui/icons-material/Close';
import RetryIcon from '@mui/icons-material/Refresh';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import IconButton from '@mui/material/IconButton';
import { useMemo, useRef, type KeyboardEvent } from 'react';
import type { Target } from '@/core/check/target';
import { OUTCOME_WORDS, whyNot, type Judged, type Verdict } from '@/core/check/verdict';
import { clock, figure, signed } from '@/core/text/figures';
import { LevelMark } from '../ui/LevelMark';
import type { DataColumn } from '../ui/table/column';
import { DataTable, type RowList } from '../ui/table/DataTable';
import { useDataTable } from '../ui/table/useDataTable';
import type { Audit } from './audit';
import { WORK_NAMES, type AuditRow } from './auditFile';

const ROW_HEIGHT = 36;

/** A verdict in a cell: outcome, and how far loudness is from the target. */
function VerdictCell({ verdict }: { verdict: Verdict | undefined }) {
  if (!verdict) return <>—</>;
  const { meets, outcome, figures } = verdict;
  const [loudness] = figures;
  const missed = figures.filter(({ state }) => state === 'over' || state === 'under');
  const far = loudness?.deviation ?? null;
  const why = missed.find(({ figure: of }) => of !== 'integrated' && of !== 'dialogue');
  return (
    <Box
      title={whyNot(verdict) ?? undefined}
      sx={{ display: 'flex', alignItems: 'center', gap: 0.75, lineHeight: '14px' }}
    >
      <LevelMark standing={meets === null ? 'unknown' : meets ? 'within' : 'over'} />
      <Box sx={{ minWidth: 0 }}>
        <b>{OUTCOME_WORDS[outcome]}</b>
        <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
          {far === null ? '' : `${signed(far)} LU`}
          {why && missed.length > 0 ? `${far === null ? '' : ', '}${why.label.toLowerCase()}` : ''}
        </Box>
      </Box>
    </Box>
  );
}

/** What is being done to a file, or why it has no verdict. */
function StateCell({ row: { file }, audit }: { row: AuditRow; audit: Audit }) {
  const { work, done, failure, cancelled } = file;
  if (work !== null)
    return (
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <Box sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {WORK_NAMES[work]}
          {work === 'waiting' ? '' : ` ${figure(100 * done, 0)} %`}
        </Box>
        {work !== 'mending' && (
          <IconButton
            size="small"
            aria-label={`Cancel ${file.file.name}`}
            onClick={(event) => {
              event.stopPropagation();
              audit.cancel(file.id);
            }}
            sx={{ p: 0.25 }}
          >
            <CancelIcon sx={{ fontSize: 15 }} />
          </IconButton>
        )}
      </Box>
    );
  if (failure || cancelled)
    return (
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <Box
          title={failure ? `${failure.message} ${failure.hint}` : undefined}
          sx={{
            ...{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' },
            color: failure ? 'error.main' : undefined,
          }}
        >
          {failure ? failure.message : 'Stopped'}
        </Box>
        <IconButton
          size="small"
          title="Try again"
          aria-label={`Try again: ${file.file.name}`}
          onClick={(event) => {
            event.stopPropagation();
            audit.again(file.id);
          }}
          sx={{ p: 0.25 }}
        >
          <RetryIcon sx={{ fontSize: 15 }} />
        </IconButton>
      </Box>
    );
  return <>{file.mended ? file.mended.sentence : (file.checked?.mend.sentence ?? '')}</>;
}

const FIGURES: readonly {
  readonly id: string;
  readonly heading: string;
  readonly of: (judged: Judged) => number | null;
  readonly hidden?: true;
}[] = [
  { id: 'integrated', heading: 'LUFS', of: ({ integratedLufs }) => integratedLufs },
  { id: 'dialogue', heading: 'Speech', of: ({ spoken }) => spoken?.lufs ?? null, hidden: true },
  { id: 'shortTerm', heading: 'Max S', of: ({ maxShortTermLufs }) => maxShortTermLufs },
  { id: 'momentary', heading: 'Max M', of: ({ maxMomentaryLufs }) => maxMomentaryLufs, hidden: true },
  { id: 'range', heading: 'LRA', of: ({ loudnessRangeLu }) => loudnessRangeLu },
  { id: 'truePeak', heading: 'dBTP', of: ({ truePeakDbtp }) => truePeakDbtp },
];

const SPOKEN: Readonly<Record<string, string>> = {
  integrated: 'Integrated loudness, LUFS',
  dialogue: 'Loudness while somebody speaks, LUFS',
  shortTerm: 'Largest short-term loudness, LUFS',
  momentary: 'Largest momentary loudness, LUFS',
  range: 'Loudness range, LU',
  truePeak: 'True peak, dBTP',
};

function columnsOf(
  targets: readonly Target[],
  audit: Audit,
  picked: ReadonlySet<string>,
  onPick: (id: string) => void,
): readonly DataColumn<AuditRow>[] {
  const rank = { failed: 0, notWhole: 1, misses: 2, notJudged: 3, waiting: 4, meets: 5 } as const;
  return [
    {
      ...{ id: 'pick', heading: '', spoken: 'Pick', size: 30, fixed: true },
      cell: ({ id, file }) => (
        <Checkbox
          size="small"
          checked={picked.has(id)}
          onClick={(event) => event.stopPropagation()}
          onChange={() => onPick(id)}
          slotProps={{ input: { 'aria-label': `Pick ${file.file.name}` } }}
          sx={{ p: 0.25 }}
        />
      ),
    },
    {
      ...{ id: 'name', heading: 'File', size: 150, grow: 1, fixed: true },
      order: ({ file }) => `${file.folder}/${file.file.name}`,
      cell: ({ file }) => (
        <Box sx={{ lineHeight: '14px', overflow: 'hidden', textOverflow: 'ellipsis' }}>
          <b>{file.file.name}</b>
          {file.folder !== '' && <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{file.folder}</Box>}
        </Box>
      ),
      cellProps: ({ file }) => ({ title: file.file.name }),
    },
    ...targets.map((target, i): DataColumn<AuditRow> => ({
      ...{ id: `target ${target.id}`, heading: target.name, size: 124 },
      order: ({ verdicts, standing }) =>
        i === 0 ? rank[standing] : verdicts[i] ? Number(verdicts[i].meets ?? 0.5) : null,
      cell: ({ verdicts }) => <VerdictCell verdict={verdicts[i]} />,
      cellProps: ({ verdicts }) => ({ 'data-outcome': verdicts[i]?.outcome ?? 'none' }),
    })),
    ...FIGURES.map(({ id, heading, of, hidden }): DataColumn<AuditRow> => ({
      ...{ id, heading, size: 56, right: true, hint: SPOKEN[id]!, ...(hidden && { hidden }) },
      order: ({ file }) => (file.checked ? of(file.checked.judged) : null),
      cell: ({ file }) => (file.checked ? figure(of(file.checked.judged)) : '—'),
    })),
    {
      ...{
        id: 'findings',
        heading: 'Found',
        size: 78,
        hint: 'What breaks a limit, and what is worth a look',
      },
      order: ({ file: { checked } }) => (checked ? -(checked.breaks * 1000 + checked.looks) : null),
      cell: ({ file: { checked } }) =>
        checked && (
          <Box sx={{ lineHeight: '14px', fontSize: 11 }}>
            <b>{checked.breaks}</b> {checked.breaks === 1 ? 'breaks' : 'break'}
            <br />
            {checked.looks} to look at
          </Box>
        ),
      cellProps: ({ file: { checked } }) => ({ 'data-breaks': checked?.breaks ?? '' }),
    },
    {
      ...{ id: 'length', heading: 'Length', size: 62, right: true },
      order: ({ file }) => file.checked?.judged.form?.seconds ?? null,
      cell: ({ file }) => (file.checked ? clock(file.checked.judged.form!.seconds, 0) : '—'),
    },
    {
      ...{ id: 'state', heading: 'What mends it', size: 190, grow: 1.4, sentence: true },
      cell: (row) => <StateCell row={row} audit={audit} />,
      cellProps: ({ file }) => ({
        title: file.failure
          ? `${file.failure.message} ${file.failure.hint}`
          : (file.checked?.mend.sentence ?? ''),
      }),
    },
  ];
}

/** Every file a row: its verdicts, its figures, what mends it. */
export function FileTable({
  audit,
  targets,
  rows,
  picked,
  onPick,
  selected,
  onSelect,
}: {
  audit: Audit;
  targets: readonly Target[];
  rows: readonly AuditRow[];
  picked: ReadonlySet<string>;
  onPick: (id: string) => void;
  selected: string | null;
  onSelect: (id: string) => void;
}) {
  const list = useRef<RowList>(null);
  const columns = useMemo(() => columnsOf(targets, audit, picked, onPick), [targets, audit, picked, onPick]);
  const model = useDataTable({ name: 'audit', columns, rows, keyOf: ({ id }) => id });
  const at = model.rows.findIndex(({ id }) => id === selected);
  const onKeyDown = (event: KeyboardEvent): void => {
    if ((event.target as HTMLElement).closest('input, button')) return;
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12, Home: -1e9, End: 1e9 }[event.key];
    const row = model.rows[at];
    if (by !== undefined) {
      const next = Math.max(0, Math.min(model.rows.length - 1, at < 0 ? 0 : at + by));
      if (model.rows[next]) onSelect(model.rows[next].id);
      list.current?.scrollToIndex(next);
    } else if (event.key === 'Enter' && row) onPick(row.id);
    else if (event.key === 'Delete' && row) {
      const next = model.rows[at + 1] ?? model.rows[at - 1];
      audit.remove(new Set([row.id]));
      if (next) onSelect(next.id);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <DataTable
      label="Files"
      role="grid"
      model={model}
      rowHeight={ROW_HEIGHT}
      listRef={list}
      empty={<Box sx={{ p: 2, color: 'text.secondary' }}>None of these.</Box>}
      attributes={{ onKeyDown }}
      rowProps={({ id, file, standing }) => ({
        id: `file-${id}`,
        'data-file': file.file.name,
        'data-standing': standing,
        'data-work': file.work ?? 'none',
        'aria-selected': id === selected,
        onClick: () => onSelect(id),
        sx: { cursor: 'default', ...(id === selected && { bgcolor: 'action.selected' }) },
      })}
    />
  );
}

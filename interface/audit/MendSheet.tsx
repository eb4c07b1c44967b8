'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import type { Target } from '@/core/check/target';
import { count } from '@/core/text/words';
import { BottomSheet } from '../programme/proposal/BottomSheet';
import { OneOf } from '../ui/OneOf';
import { FailureNote } from '../ui/FailureNote';
import { ProgressLine } from '../ui/ProgressLine';
import type { DataColumn } from '../ui/table/column';
import { DataTable } from '../ui/table/DataTable';
import { useDataTable } from '../ui/table/useDataTable';
import type { AuditRow } from './auditFile';
import type { MendRun, RunLine } from './mendRun';
import { canSaveToFolder, pickFolder, pickZip, type Destination } from '../ui/saveMany';

type Way = 'gain' | 'limiter';
const WAYS: Readonly<Record<Way, string>> = {
  gain: 'Gain only',
  limiter: 'Gain, and a limiter where it needs one',
};

type Line = Omit<RunLine, 'state'> & { readonly state: RunLine['state'] | 'planned' };

/** What is to become of a file. */
function plannedLine({ id, file }: AuditRow, way: Way): Line {
  const mend = file.checked!.mend;
  const limited = mend.kind === 'cannot' && way === 'limiter';
  return {
    ...{ id, name: file.file.name, state: 'planned' },
    said: limited ? `${mend.sentence} With a limiter: worked out as it is mended.` : mend.sentence,
  };
}

const STATE_NAMES: Readonly<Record<Line['state'], string>> = {
  planned: 'Waits',
  saved: 'Mended',
  left: 'Left as it is',
  failed: 'Failed',
};

const COLUMNS: readonly DataColumn<Line>[] = [
  {
    ...{ id: 'name', heading: 'File', size: 200, grow: 1 },
    cell: ({ name }) => name,
    order: ({ name }) => name,
  },
  {
    ...{ id: 'state', heading: 'What became of it', size: 120 },
    cell: ({ state }) => STATE_NAMES[state],
    order: ({ state }) => state,
  },
  {
    ...{ id: 'said', heading: 'Why', size: 300, grow: 2, sentence: true },
    cell: ({ said }) => said,
    cellProps: ({ said }) => ({ title: said }),
  },
];

/** Many files mended in one go, and saved as they are done. */
export function MendSheet({
  run,
  rows,
  target,
  onClose,
}: {
  run: MendRun;
  /** Those that are to be mended. */
  rows: readonly AuditRow[];
  target: Target;
  onClose: () => void;
}) {
  const [way, setWay] = useState<Way>('gain');
  const [trouble, setTrouble] = useState<string | null>(null);
  const missing = useMemo(() => rows.filter(({ standing }) => standing === 'misses'), [rows]);
  const { running, of, at, label, done, lines, cancelled, failure } = useStore(run.store);
  const shownLines = useMemo((): readonly Line[] => {
    const done = new Set(lines.map(({ id }) => id));
    const planned =
      cancelled || (!running && lines.length > 0) ? [] : missing.filter(({ id }) => !done.has(id));
    return [...lines, ...planned.map((row) => plannedLine(row, way))];
  }, [lines, missing, way, running, cancelled]);
  const model = useDataTable({ name: 'mend run', columns: COLUMNS, rows: shownLines, keyOf: ({ id }) => id });
  const meeting = rows.filter(({ standing }) => standing === 'meets').length;
  const others = rows.length - missing.length - meeting;
  const start = async (pick: () => Promise<Destination | null>): Promise<void> => {
    setTrouble(null);
    try {
      const destination = await pick();
      if (destination)
        await run.start(
          missing.map(({ id }) => id),
          way,
          destination,
        );
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  const mended = lines.filter(({ state }) => state === 'saved').length;
  return (
    <BottomSheet
      label="Mend files"
      onClose={() => {
        run.dismiss();
        onClose();
      }}
      top={
        <>
          <Box sx={{ mr: 1 }}>
            <Typography variant="h2">Mend {count(missing.length, 'file')}</Typography>
            <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
              to {target.name}; {count(meeting, 'meets it and is', 'meet it and are')} left alone
              {others > 0 && `; ${count(others, 'has', 'have')} no verdict`}
            </Box>
          </Box>
          <OneOf
            label="How they are mended"
            of={Object.keys(WAYS) as Way[]}
            value={way}
            disabled={running}
            words={(each) => WAYS[each]}
            onSelect={setWay}
          />
        </>
      }
      actions={
        running ? (
          <ProgressLine
            label={`${at} of ${of}: ${label.toLowerCase()}`}
            done={done}
            onCancel={() => run.cancel()}
          />
        ) : (
          <>
            {canSaveToFolder() && (
              <Button
                variant="contained"
                disabled={missing.length === 0}
                onClick={() => void start(pickFolder)}
              >
                Save to a folder…
              </Button>
            )}
            <Button
              variant={canSaveToFolder() ? 'outlined' : 'contained'}
              disabled={missing.length === 0}
              onClick={() => void start(() => pickZip('mended files.zip'))}
            >
              Save as one zip
            </Button>
          </>
        )
      }
    >
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {trouble && <FailureNote message={trouble} hint="Pick another place to save to." />}
      <Box
        role="status"
        data-run={running ? 'running' : lines.length > 0 ? 'done' : 'none'}
        sx={{ px: 1.5, fontSize: 12.5 }}
      >
        {lines.length === 0
          ? 'Each is written anew, read back and measured, then saved with a report (report.csv); the files you added are not changed.'
          : `${cancelled ? 'Stopped. ' : ''}${mended} mended, ${lines.length - mended} not${running ? ' so far' : ''}.`}
      </Box>
      <DataTable
        label="What became of them"
        model={model}
        rowHeight={34}
        rowProps={({ name, state }) => ({ 'data-run-file': name, 'data-run-state': state })}
      />
    </BottomSheet>
  );
}

'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import { useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { differentPlaces, type DifferentPlace } from '@/core/loudness/levelDifference';
import type { Project } from '@/core/programme/model';
import { clock, figure, signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import type { ProgrammeSummary } from '@/engine/protocol';
import { NumberField } from '../../editing/NumberField';
import { useSession } from '../../session/SessionContext';
import { CompareFigures } from '../../ui/CompareFigures';
import { DropArea } from '../../ui/DropArea';
import { OneOf } from '../../ui/OneOf';
import { FailureNote } from '../../ui/FailureNote';
import { ProgressLine } from '../../ui/ProgressLine';
import type { DataColumn } from '../../ui/table/column';
import { DataTable } from '../../ui/table/DataTable';
import { useDataTable } from '../../ui/table/useDataTable';
import { useRemembered } from '../../ui/useRemembered';
import type { Looked } from '../looked';
import { TimeCharts } from '../overTime/TimeCharts';
import { COMPARE_PANELS, type CompareData } from './comparePanels';
import { CompareWith } from './CompareWith';

/** Heard before a place, seconds. */
const LEAD_SECONDS = 1;

const real = (value: number | undefined): number | null =>
  value === undefined || Number.isNaN(value) ? null : value;

/** Both at a time, in words. */
function Readout({ data, seconds, name }: { data: CompareData; seconds: number; name: string }) {
  const { difference, shiftDb } = data;
  const k = Math.round((seconds - difference.middle) * difference.perSecond);
  const own = real(difference.a[k]);
  const at = real(difference.b[k]);
  const other = at === null ? null : at + shiftDb;
  return (
    <>
      <Box
        data-readout
        sx={{ fontSize: 12, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}
      >
        <b>{clock(seconds)}</b> short-term: now {withUnit(own, 'LUFS')}, {name} {withUnit(other, 'LUFS')}
        {own !== null && other !== null && `: ${signed(other - own)} LU`}
      </Box>
      <Box sx={{ fontSize: 11, color: 'text.secondary', whiteSpace: 'nowrap' }}>
        — now&ensp;
        <Box component="span" sx={{ color: 'primary.main', fontWeight: 700 }}>
          - -
        </Box>{' '}
        {name}
      </Box>
    </>
  );
}

/** The same in figures, a row a second. */
function SecondsTable({ data }: { data: CompareData }) {
  const { difference, shiftDb } = data;
  const rows = useMemo(() => {
    const seconds = Math.floor(difference.a.length / difference.perSecond + difference.middle);
    return Array.from({ length: seconds + 1 }, (_, at) => {
      const k = Math.round((at - difference.middle) * difference.perSecond);
      const [own, other] = [real(difference.a[k]), real(difference.b[k])];
      return { at, own, other: other === null ? null : other + shiftDb };
    });
  }, [difference, shiftDb]);
  type Row = (typeof rows)[number];
  const value = (id: string, heading: string, of: (row: Row) => number | null): DataColumn<Row> => ({
    ...{ id, heading, size: 110, grow: 1, right: true, order: of },
    cell: (row) => figure(of(row)),
  });
  const columns: readonly DataColumn<Row>[] = [
    {
      ...{ id: 'time', heading: 'Time', size: 70, fixed: true },
      cell: ({ at }) => clock(at, 0),
      order: ({ at }) => at,
    },
    value('own', 'Now, LUFS', ({ own }) => own),
    value('other', 'The other, LUFS', ({ other }) => other),
    value('difference', 'Difference, LU', ({ own, other }) =>
      own === null || other === null ? null : other - own,
    ),
  ];
  const model = useDataTable({ name: 'compared seconds', columns, rows, keyOf: ({ at }) => String(at) });
  return (
    <DataTable
      label="Both over time"
      model={model}
      rowHeight={24}
      rowProps={({ at }) => ({ 'data-second': String(at) })}
    />
  );
}

function Places({ places, looked }: { places: readonly DifferentPlace[]; looked: Looked }) {
  const columns: readonly DataColumn<DifferentPlace>[] = [
    {
      ...{
        id: 'where',
        heading: 'Where they differ',
        size: 150,
        grow: 1,
        order: ({ from }: DifferentPlace) => from,
      },
      cell: ({ from, to }) => (
        <Button
          color="inherit"
          aria-label={`Hear ${looked.place(from)} – ${looked.place(to)}`}
          onClick={() => looked.play(Math.max(0, from - LEAD_SECONDS))}
          sx={{ p: 0, minWidth: 0, textDecoration: 'underline', lineHeight: '18px' }}
        >
          {looked.place(from)} – {looked.place(to)}
        </Button>
      ),
    },
    {
      ...{ id: 'lu', heading: 'The other', size: 150, right: true },
      order: ({ lu }) => (lu === null ? null : -Math.abs(lu)),
      cell: ({ lu }) => (lu === null ? 'one of them is silent' : `${signed(lu)} LU`),
    },
  ];
  const model = useDataTable({
    name: 'compared places',
    columns,
    rows: places,
    keyOf: ({ from }) => String(from),
  });
  return (
    <DataTable
      label="Where they differ"
      model={model}
      rowHeight={24}
      empty={<Box sx={{ p: 1.5, color: 'text.secondary' }}>Nowhere by more than that.</Box>}
      rowProps={({ from, lu }) => ({
        'data-different': from.toFixed(1),
        'data-lu': lu === null ? 'silent' : lu.toFixed(2),
      })}
    />
  );
}

/** The programme beside another version of it, another project or a file: figures, course, places, and by ear. */
export function CompareFace({
  project,
  programme,
  looked,
}: {
  project: Project;
  programme: ProgrammeSummary;
  looked: Looked;
}) {
  const session = useSession();
  const { comparing } = session;
  useEffect(() => comparing.watch(), [comparing]);
  const state = useStore(comparing.store);
  const { compared, matched } = useStore(session.listening.comparison.store);
  const [overLu, setOverLu] = useRemembered('compare over', 1);
  const [bottom] = useState(206);
  const { other, difference, alignment, work, failure, offsetSeconds, byHand } = state;
  const levelShift =
    other && other.figures.integratedLufs !== null && programme.figures.integratedLufs !== null
      ? programme.figures.integratedLufs - other.figures.integratedLufs
      : 0;
  const shiftDb = matched ? levelShift : 0;
  const data = useMemo(
    (): CompareData | null =>
      difference && { difference, shiftDb, overLu, horizon: project.target.integratedLufs },
    [difference, shiftDb, overLu, project.target.integratedLufs],
  );
  const places = useMemo(
    () => (data ? differentPlaces(data.difference, overLu, shiftDb) : []),
    [data, overLu, shiftDb],
  );
  const hears = compared === 'other';
  const lies =
    other?.kind === 'step'
      ? 'A state of this project lies where it lies.'
      : byHand
        ? 'By hand.'
        : alignment
          ? `Found from the sound; the course of their levels is ${figure(100 * alignment.alike, 0)} % alike.`
          : 'Nothing in the sound says how the two lie to each other: both from their beginnings.';
  return (
    <DropArea label="Drop a file to compare with" onFiles={([file]) => file && void comparing.withFile(file)}>
      <Box
        sx={{
          display: 'flex',
          gap: 1,
          alignItems: 'center',
          px: 1.5,
          py: 1,
          minHeight: 54,
          flexWrap: 'wrap',
        }}
      >
        <CompareWith name={other?.name ?? null} />
        {work && <ProgressLine label={work.label} done={work.done} onCancel={() => comparing.cancel()} />}
        {other && !work && (
          <>
            <OneOf
              label="What is heard"
              of={['now', 'other'] as const}
              value={hears ? 'other' : 'now'}
              words={(each) => (each === 'now' ? 'Hear now' : 'Hear the other')}
              onSelect={(each) => session.listening.comparison.choose(each === 'other' ? 'other' : null)}
            />
            <ToggleButton
              value="matched"
              size="small"
              selected={matched}
              onChange={() => session.listening.comparison.setMatched(!matched)}
              sx={{ textTransform: 'none', px: 1, py: 0.5 }}
            >
              Loudness matched{matched ? `: ${signed(levelShift, 2)} dB` : ''}
            </ToggleButton>
            <NumberField
              label="Differ by more than (LU)"
              value={overLu}
              width={160}
              range={{ name: 'The difference', min: 0.1, max: 30, unit: 'LU' }}
              onValue={setOverLu}
            />
            {other.kind !== 'step' && (
              <>
                <NumberField
                  label="The other begins later by (s)"
                  value={Number(offsetSeconds.toFixed(4))}
                  width={178}
                  range={{ name: 'The offset', min: -86_400, max: 86_400, unit: 's' }}
                  onValue={(seconds) => comparing.setOffset(seconds)}
                />
                {byHand && (
                  <Button color="inherit" onClick={() => comparing.setOffset(null)}>
                    Find it from the sound
                  </Button>
                )}
              </>
            )}
            <Button color="inherit" onClick={() => comparing.clear()}>
              End
            </Button>
          </>
        )}
      </Box>
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {other && other.leftOut > 0 && (
        <Box sx={{ px: 1.5, pb: 0.5, fontSize: 12.5, color: 'warning.main' }}>
          {count(other.leftOut, 'clip')} of {other.name} {other.leftOut === 1 ? 'has' : 'have'} no sound in
          this browser and {other.leftOut === 1 ? 'is' : 'are'} in none of its figures.
        </Box>
      )}
      {!other && !work && (
        <Box sx={{ px: 1.5, py: 1, color: 'text.secondary' }}>
          Hold the programme against how it was after a step, against another project (a duplicate, say), or
          against a file: drop one here. They are laid beside each other by their sound.
        </Box>
      )}
      {other && data && (
        <>
          <Box
            data-alignment={alignment ? alignment.alike.toFixed(3) : 'none'}
            sx={{ px: 1.5, fontSize: 12, color: 'text.secondary' }}
          >
            {lies} {count(places.length, 'place differs', 'places differ')} by more than {figure(overLu)} LU
            {matched ? ', with their loudness matched' : ''}.
          </Box>
          <TimeCharts
            data={data}
            panels={COMPARE_PANELS}
            seconds={programme.lengthSeconds}
            looked={looked}
            top={(seconds) => <Readout data={data} seconds={seconds} name={other.name} />}
            table={<SecondsTable data={data} />}
            tools={() => null}
          />
          <Box
            sx={{ display: 'flex', borderTop: 1, borderColor: 'divider', flex: 'none' }}
            style={{ height: bottom }}
          >
            <Box
              sx={{ overflow: 'auto', flex: '0 0 440px', px: 1.5, pt: 0.5, whiteSpace: 'nowrap' }}
              tabIndex={0}
              role="region"
              aria-label="Figures side by side"
            >
              <CompareFigures a={programme.figures} b={other.figures} aTitle="Now" bTitle="The other" />
            </Box>
            <Box
              sx={{
                flex: 1,
                minWidth: 0,
                display: 'flex',
                flexDirection: 'column',
                borderLeft: 1,
                borderColor: 'divider',
              }}
            >
              <Places places={places} looked={looked} />
            </Box>
          </Box>
        </>
      )}
    </DropArea>
  );
}

'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { hasLimiters } from '@/core/signal/asRecorded';
import type { Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { figure, signed, withUnit } from '@/core/text/figures';
import type { CheckedProgramme } from '@/engine/protocol';
import { useSession, useSessionState } from '../../session/SessionContext';
import { OneOf } from '../../ui/OneOf';
import { FailureNote } from '../../ui/FailureNote';
import { ProgressLine } from '../../ui/ProgressLine';
import type { DataColumn } from '../../ui/table/column';
import { DataTable, type RowList } from '../../ui/table/DataTable';
import { useDataTable } from '../../ui/table/useDataTable';
import { useRemembered } from '../../ui/useRemembered';
import { ShareBar } from './ShareBar';
import { PART_KINDS, shareRows, type PartKind, type ShareRow } from './shareRows';
import { DialogueBox } from './DialogueBox';
import { useContributions } from './useContributions';

const KIND_NAMES: Readonly<Record<PartKind, string>> = { role: 'Roles', track: 'Tracks', clip: 'Clips' };

const percent = (share: number): string => `${figure(share * 100)} %`;

const NONE: readonly ShareRow[] = [];

function columnsOf(project: Project, named: string): readonly DataColumn<ShareRow>[] {
  return [
    {
      ...{
        id: 'part',
        heading: 'Part',
        size: 170,
        grow: 1,
        fixed: true,
        order: ({ name }: ShareRow) => name,
      },
      cell: ({ name, within }) => (
        <Box sx={{ lineHeight: '15px', overflow: 'hidden', textOverflow: 'ellipsis' }}>
          <Box component="span" sx={{ fontWeight: 600 }}>
            {name}
          </Box>
          {within !== '' && <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{within}</Box>}
        </Box>
      ),
      cellProps: ({ name }) => ({ title: name }),
    },
    {
      ...{ id: 'start', heading: 'Begins', size: 92, order: ({ start }: ShareRow) => start },
      cell: ({ start }) => placeText(project, start, 1),
    },
    {
      ...{ id: 'share', heading: 'Share', size: 150, order: ({ share }: ShareRow) => share },
      hint: 'Of the gated energy behind the integrated loudness',
      cell: ({ share }) => (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 54px', gap: 1, alignItems: 'center' }}>
          <Box aria-hidden sx={{ height: 8, bgcolor: 'sheet.band' }}>
            <Box
              sx={{ height: 8, bgcolor: 'primary.main' }}
              style={{ width: `${Math.max(0, Math.min(1, share)) * 100}%` }}
            />
          </Box>
          <Box sx={{ textAlign: 'right' }}>{percent(share)}</Box>
        </Box>
      ),
      cellProps: ({ share }) => ({ 'data-share': share }),
    },
    {
      ...{
        id: 'own',
        heading: 'By itself',
        size: 92,
        right: true,
        order: ({ ownLufs }: ShareRow) => ownLufs,
      },
      hint: 'Integrated loudness of this part alone, at its place in the mix',
      cell: ({ ownLufs }) => withUnit(ownLufs, 'LUFS'),
    },
    {
      ...{ id: 'without', heading: `${named} without it`, size: 150, right: true },
      order: ({ withoutLufs }) => withoutLufs,
      hint: 'Gated anew without this part',
      cell: ({ withoutLufs }) => (withoutLufs === null ? 'nothing is left' : withUnit(withoutLufs, 'LUFS')),
      cellProps: ({ withoutLufs }) => ({ 'data-without': withoutLufs ?? '' }),
    },
    {
      ...{
        id: 'change',
        heading: 'Change',
        size: 84,
        right: true,
        order: ({ changeLu }: ShareRow) => changeLu,
      },
      cell: ({ changeLu }) => (changeLu === null ? '—' : `${signed(changeLu, 2)} LU`),
    },
  ];
}

/** Which roles, tracks and clips make it as loud as it is, and what is left without each. */
export function SharesFace({ project, checked }: { project: Project; checked: CheckedProgramme | null }) {
  const session = useSession();
  const range = useSessionState((state) => state.range);
  const [wantsRange, setWantsRange] = useState(false);
  const inRange = wantsRange && range !== null;
  const seconds = useMemo(
    () => inRange && range && { from: range.from / project.sampleRate, to: range.to / project.sampleRate },
    [inRange, range, project.sampleRate],
  );
  const of = useContributions(project, seconds || null);
  const selection = useSessionState((state) => state.selection);
  const [kind, setKind] = useRemembered<PartKind>('check shares by', 'role');
  const list = useRef<RowList>(null);
  const { contributions, isOld, done, failure, cancelled } = of;
  const rows = useMemo(
    () => (contributions ? shareRows(project, contributions, kind) : NONE),
    [project, contributions, kind],
  );
  const named = inRange ? 'Range' : 'Programme';
  const columns = columnsOf(project, named);
  const model = useDataTable({
    name: 'shares',
    columns,
    rows,
    keyOf: ({ key }) => key,
    sortedBy: 'share',
    sortedDown: true,
  });
  const [selected, setSelected] = useState<string | null>(null);
  const at = model.rows.findIndex(({ key }) => key === selected);
  const select = (row: ShareRow): void => {
    setSelected(row.key);
    session.select(row.clipIds);
    if (!session.state.playing && kind === 'clip') session.listening.seek(row.start);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = { ArrowDown: 1, ArrowUp: -1, Home: -1e9, End: 1e9 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    const next = Math.max(0, Math.min(model.rows.length - 1, at < 0 ? 0 : at + by));
    const row = model.rows[next];
    if (!row) return;
    select(row);
    list.current?.scrollToIndex(next);
  };
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', px: 1.5, py: 1, minHeight: 52 }}>
        <OneOf
          label="Taken apart by"
          of={PART_KINDS}
          value={kind}
          words={(each) => KIND_NAMES[each]}
          onSelect={setKind}
        />
        <TextField
          select
          label="Of"
          value={inRange ? 'range' : 'whole'}
          onChange={(event) => setWantsRange(event.target.value === 'range')}
          sx={{ width: 222 }}
        >
          <MenuItem value="whole" dense>
            The whole programme
          </MenuItem>
          <MenuItem value="range" dense disabled={range === null}>
            The range
          </MenuItem>
        </TextField>
        {cancelled ? (
          <Button variant="outlined" color="inherit" onClick={of.again}>
            Stopped: take the parts apart again
          </Button>
        ) : isOld && !failure ? (
          <ProgressLine label="Taking the parts apart" done={done} onCancel={of.cancel} />
        ) : (
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
            {contributions &&
              `${named}: ${withUnit(contributions.integratedLufs, 'LUFS')}${hasLimiters(project) ? ' before limiters, as is all of this' : ''}`}
          </Box>
        )}
      </Box>
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {contributions && <ShareBar rows={rows} selected={selected} onSelect={select} />}
      <DataTable
        label="Parts"
        role="grid"
        model={model}
        rowHeight={36}
        listRef={list}
        empty={
          <Box sx={{ p: 2, color: 'text.secondary' }}>
            {contributions ? 'None of it sounds.' : 'Being taken apart …'}
          </Box>
        }
        attributes={{ onKeyDown, 'data-old': isOld }}
        rowProps={(row) => ({
          id: `part-${row.key.replaceAll(' ', '-')}`,
          'data-part': row.key,
          'aria-selected': row.key === selected,
          onClick: () => select(row),
          sx: {
            cursor: 'default',
            ...(row.over && { fontStyle: 'italic' }),
            ...((row.key === selected || (kind === 'clip' && selection.has(row.clipIds[0]!))) && {
              bgcolor: 'action.selected',
            }),
          },
        })}
      />
      {checked && (
        <DialogueBox
          project={project}
          judged={checked.judged}
          contributions={contributions}
          overTime={checked.overTime}
          ofRange={inRange}
        />
      )}
    </Box>
  );
}

'use client';

import Box from '@mui/material/Box';
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
} from 'react';
import { clipPart } from '@/core/measuring/parts';
import { ledgerRow } from '@/core/proposals/ledger';
import { groupDbOf } from '@/core/programme/groups';
import type { Id } from '@/core/programme/model';
import { ColumnMenu } from '../../ui/table/ColumnMenu';
import { DataTable, type RowList } from '../../ui/table/DataTable';
import { useDataTable } from '../../ui/table/useDataTable';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { useStageActions, type SheetActions } from '../useStageActions';
import { useMeasuredClips, usePlaceTold } from '../useMeasuredClips';
import { columnsFor, type ToldRow } from './columns';
import { LedgerFilters, useFilter } from './LedgerFilters';
import { drawn, type Editable } from './drawnColumns';

const ROW_HEIGHT = 27;

interface Props {
  readonly sheetActions: SheetActions;
}

const idOf = ({ entry }: ToldRow): Id => entry.clip.id;

/** Every clip a row: measured, gain, reason, after, peak, state. Its selection is that of the lanes. */
export function Ledger({ sheetActions }: Props) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const shares = useSessionState((state) => state.shares);
  const entries = useMeasuredClips(project.clips);
  const told = usePlaceTold();
  const [editing, setEditing] = useState<{ readonly id: Id; readonly cell: Editable } | null>(null);
  const filter = useFilter(project.id);
  const [current, setCurrent] = useState<Id | null>(null);
  const [seen, setSeen] = useState(selection);
  const scroller = useRef<HTMLDivElement>(null);
  const list = useRef<RowList>(null);

  const all = useMemo((): ToldRow[] => {
    const tracks = new Map(project.tracks.map((track) => [track.id, track]));
    const groups = groupDbOf(project);
    return entries.map((entry) => ({
      ...ledgerRow(entry, project.target),
      trackName: tracks.get(entry.clip.trackId)?.name ?? '',
      trackDb: tracks.get(entry.clip.trackId)?.gainDb ?? 0,
      groupsDb: entry.clip.groupId === null ? 0 : groups(entry.clip.groupId),
      place: (seconds) => told(entry.id, seconds),
      share: shares?.parts.get(clipPart(entry.id))?.share ?? null,
    }));
  }, [entries, project, told, shares]);
  const filtered = useMemo(() => all.filter((row) => filter.keeps(row, project)), [all, filter, project]);
  const edited = useRef(false);
  useEffect(() => {
    if (edited.current && editing === null) scroller.current?.focus({ preventScroll: true });
    edited.current = editing !== null;
  }, [editing]);
  const columns = drawn(
    useMemo(() => columnsFor(all), [all]),
    {
      editing,
      isSelected: (id) => selection.has(id),
      onEdit: (id, cell) => setEditing({ id, cell }),
      onDone: () => setEditing(null),
    },
  );
  const model = useDataTable({ name: 'ledger', columns, rows: filtered, keyOf: idOf, sortedBy: 'start' });
  const { rows } = model;
  const at = rows.findIndex((row) => idOf(row) === current);

  const goTo = useCallback(
    (index: number) => {
      const row = rows[Math.max(0, Math.min(rows.length - 1, index))];
      if (!row) return;
      setCurrent(idOf(row));
      list.current?.scrollToIndex(rows.indexOf(row));
    },
    [rows],
  );
  useStageActions(
    useMemo(
      () => ({
        focusClip: (id: Id) => {
          goTo(rows.findIndex((row) => idOf(row) === id));
          scroller.current?.focus({ preventScroll: true });
        },
        ...sheetActions,
        order: () => rows.map(idOf),
      }),
      [goTo, rows, sheetActions],
    ),
  );
  // What is selected elsewhere is where the keyboard goes on.
  if (seen !== selection) {
    setSeen(selection);
    if (current === null || !selection.has(current)) setCurrent([...selection][0] ?? null);
  }

  const step = (event: KeyboardEvent, by: number): void => {
    const index = Math.max(0, Math.min(rows.length - 1, at < 0 ? 0 : at + by));
    const row = rows[index];
    if (!row) return;
    goTo(index);
    const from = at < 0 ? index : at;
    const passed = rows.slice(Math.min(from, index), Math.max(from, index) + 1);
    session.select(event.shiftKey ? [...selection, ...passed.map(idOf)] : [idOf(row)]);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if ((event.target as HTMLElement).closest('input, button')) return;
    const page = Math.max(1, Math.floor(event.currentTarget.clientHeight / ROW_HEIGHT) - 2);
    const way = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page, Home: -1e9, End: 1e9 }[event.key];
    if (way !== undefined && !event.ctrlKey && !event.altKey) step(event, way);
    else if ((event.key === 'Enter' || event.key === 'F2') && current !== null)
      setEditing({ id: current, cell: 'gain' });
    else if (event.key === 't' && current !== null) setEditing({ id: current, cell: 'after' });
    else return;
    event.preventDefault();
  };
  const select = (event: MouseEvent, id: Id): void => {
    const anchor = at;
    setCurrent(id);
    if (event.ctrlKey || event.metaKey) {
      const next = new Set(selection);
      if (!next.delete(id)) next.add(id);
      session.select(next);
    } else if (event.shiftKey && anchor >= 0) {
      const index = rows.findIndex((row) => idOf(row) === id);
      const part = rows.slice(Math.min(anchor, index), Math.max(anchor, index) + 1);
      session.select([...selection, ...part.map(idOf)]);
    } else session.select([id]);
  };

  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <LedgerFilters
        filter={filter}
        shown={rows.length}
        of={project.clips.length}
        columns={<ColumnMenu model={model} />}
      />
      <DataTable
        label="Ledger of clips"
        role="grid"
        model={model}
        rowHeight={ROW_HEIGHT}
        scroller={scroller}
        listRef={list}
        attributes={{
          'aria-multiselectable': true,
          'aria-activedescendant': at >= 0 ? `ledger-${current}` : undefined,
          'data-lanes': '',
          ...(current !== null && { 'data-clip-focus': current }),
          onKeyDown,
        }}
        rowProps={(row) => {
          const { clip } = row.entry;
          return {
            id: `ledger-${clip.id}`,
            'aria-selected': selection.has(clip.id),
            'data-ledger': clip.name,
            'data-state': row.state,
            onClick: (event) => select(event, clip.id),
            sx: {
              cursor: 'default',
              userSelect: 'none',
              bgcolor: selection.has(clip.id) ? 'sheet.band' : undefined,
              outline: clip.id === current ? '1.5px solid' : undefined,
              outlineColor: 'primary.main',
              outlineOffset: -2,
            },
          };
        }}
        empty={
          <Box sx={{ p: 2, color: 'text.secondary' }}>
            {project.clips.length === 0 ? 'Nothing is placed yet.' : 'No clip matches the filters.'}
          </Box>
        }
      />
    </Box>
  );
}

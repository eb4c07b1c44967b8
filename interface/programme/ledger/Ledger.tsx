'use client';

import Box from '@mui/material/Box';
import { useVirtualizer } from '@tanstack/react-virtual';
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
} from 'react';
import { ledgerRow } from '@/core/proposals/ledger';
import type { Id } from '@/core/programme/model';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { useDesk, type Hands } from '../useDesk';
import { useMeasuredClips, usePlaceTold } from '../useMeasuredClips';
import { COLUMNS, sorted, type RowContext, type Sorting } from './columns';
import { LedgerFilters, useFilter } from './LedgerFilters';
import { LedgerHeader } from './LedgerHeader';
import { LedgerLine, ROW_HEIGHT } from './LedgerLine';

interface Props {
  readonly hands: Hands;
}

/** Every clip a row: measured, gain, reason, after, peak, state. Its selection is that of the lanes. */
export function Ledger({ hands }: Props) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const shares = useSessionState((state) => state.shares);
  const entries = useMeasuredClips(project.clips);
  const told = usePlaceTold();
  const [sorting, setSorting] = useState<Sorting>({ column: 'start', down: false });
  const [editing, setEditing] = useState<{ readonly id: Id; readonly cell: 'gain' | 'after' } | null>(null);
  const filter = useFilter();
  const [current, setCurrent] = useState<Id | null>(null);
  const scroller = useRef<HTMLDivElement>(null);

  // Shares have a column once they are worked out.
  const columns = useMemo(
    () => (shares === null ? COLUMNS.filter(({ id }) => id !== 'share') : COLUMNS),
    [shares],
  );
  const context = useMemo((): RowContext => {
    const names = new Map(project.tracks.map(({ id, name }) => [id, name]));
    return {
      trackName: (id) => names.get(id) ?? '',
      place: (row, seconds) => told(row.entry.id, seconds),
      share: (id) => shares?.get(id),
    };
  }, [project.tracks, told, shares]);
  const rows = useMemo(() => {
    const all = entries.map((entry) => ledgerRow(entry, project.target));
    return sorted(
      all.filter((row) => filter.keeps(row, project)),
      sorting,
      context,
    );
  }, [entries, project, filter, sorting, context]);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    getItemKey: (index) => rows[index]!.entry.clip.id,
    overscan: 8,
  });
  const at = rows.findIndex((row) => row.entry.clip.id === current);

  const goTo = useCallback(
    (index: number) => {
      const row = rows[Math.max(0, Math.min(rows.length - 1, index))];
      if (!row) return;
      setCurrent(row.entry.clip.id);
      list.scrollToIndex(rows.indexOf(row));
    },
    [rows, list],
  );
  useDesk(
    useMemo(
      () => ({
        focusClip: (id: Id) => {
          goTo(rows.findIndex((row) => row.entry.clip.id === id));
          scroller.current?.focus({ preventScroll: true });
        },
        ...hands,
        order: () => rows.map((row) => row.entry.clip.id),
      }),
      [goTo, rows, hands],
    ),
  );
  // What is chosen elsewhere is where the keyboard goes on.
  useEffect(() => {
    if (current === null || !selection.has(current)) setCurrent([...selection][0] ?? null);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only a new choice moves it
  }, [selection]);

  const step = (event: KeyboardEvent, by: number): void => {
    const index = Math.max(0, Math.min(rows.length - 1, at < 0 ? 0 : at + by));
    const id = rows[index]?.entry.clip.id;
    if (id === undefined) return;
    goTo(index);
    const from = at < 0 ? index : at;
    const passed = rows.slice(Math.min(from, index), Math.max(from, index) + 1);
    session.select(event.shiftKey ? [...selection, ...passed.map((row) => row.entry.clip.id)] : [id]);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if ((event.target as HTMLElement).closest('input')) return;
    const page = Math.max(1, Math.floor(event.currentTarget.clientHeight / ROW_HEIGHT) - 2);
    const way = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page, Home: -1e9, End: 1e9 }[event.key];
    if (way !== undefined && !event.ctrlKey && !event.altKey) step(event, way);
    else if ((event.key === 'Enter' || event.key === 'F2') && current !== null)
      setEditing({ id: current, cell: 'gain' });
    else if (event.key === 't' && current !== null) setEditing({ id: current, cell: 'after' });
    else return;
    event.preventDefault();
  };
  const choose = (event: MouseEvent, id: Id): void => {
    const anchor = at;
    setCurrent(id);
    if (event.ctrlKey || event.metaKey) {
      const next = new Set(selection);
      if (!next.delete(id)) next.add(id);
      session.select(next);
    } else if (event.shiftKey && anchor >= 0) {
      const index = rows.findIndex((row) => row.entry.clip.id === id);
      const part = rows.slice(Math.min(anchor, index), Math.max(anchor, index) + 1);
      session.select([...selection, ...part.map((row) => row.entry.clip.id)]);
    } else session.select([id]);
  };
  const ceaseEditing = useCallback(() => {
    setEditing(null);
    scroller.current?.focus({ preventScroll: true });
  }, []);

  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <LedgerFilters filter={filter} shown={rows.length} of={project.clips.length} />
      <Box
        ref={scroller}
        role="grid"
        aria-label="Ledger of clips"
        aria-rowcount={rows.length + 1}
        aria-colcount={columns.length}
        aria-multiselectable
        aria-activedescendant={at >= 0 ? `ledger-${current}` : undefined}
        tabIndex={0}
        data-lanes
        {...(current !== null && { 'data-clip-focus': current })}
        onKeyDown={onKeyDown}
        sx={{ flex: 1, minHeight: 0, overflow: 'auto', fontSize: 12.5 }}
      >
        <LedgerHeader columns={columns} sorting={sorting} onSort={setSorting} />
        <Box role="rowgroup" sx={{ position: 'relative' }} style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map((item) => {
            const row = rows[item.index]!;
            const { id } = row.entry.clip;
            return (
              <LedgerLine
                key={item.key}
                columns={columns}
                row={row}
                index={item.index}
                top={item.start}
                context={context}
                selected={selection.has(id)}
                current={id === current}
                editing={editing?.id === id ? editing.cell : null}
                onChoose={choose}
                onEdit={(cell) => setEditing({ id, cell })}
                onDone={ceaseEditing}
              />
            );
          })}
        </Box>
        {rows.length === 0 && (
          <Box sx={{ p: 2, color: 'text.secondary' }}>
            {project.clips.length === 0 ? 'Nothing is placed yet.' : 'No clip is like that.'}
          </Box>
        )}
      </Box>
    </Box>
  );
}

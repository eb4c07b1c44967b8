'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { ledgerRow, type LedgerRow } from '@/core/proposals/ledger';
import type { Id } from '@/core/programme/model';
import { figure } from '@/core/text/figures';
import { freshContext, themeColour } from '../../ui/canvas';
import { useElementSize } from '../../ui/useElementSize';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { count } from '@/core/text/words';
import { useThemeMode } from '../../theme/ThemeSwitch';
import { clipLevel } from '@/core/check/clipLevel';
import { gainText, levelWords } from '../clipLevel';
import { DragReadout } from '../lanes/DragReadout';
import { GainGesture } from '../lanes/gestures';
import { useStageActions, type SheetActions } from '../useStageActions';
import { useGesture, type Gesture } from '../../editing/useGesture';
import { useMeasuredClips } from '../useMeasuredClips';
import { drawDistribution, drawLadder } from './drawLadder';
import {
  grouped,
  ladderLuPerPixel,
  layOut,
  leftOf,
  nameBoxes,
  outOfSight,
  rowAt,
  SCALE_LEFT,
  SCALE_RIGHT,
  type GroupBy,
} from './layout';

/** More than this are shown as a distribution until bars are asked for. */
const MOST_BARS = 400;
const NAMES_HEIGHT = 34;

interface Props {
  readonly sheetActions: SheetActions;
}

/** A clip for those who hear it: where it stands, its peak, its gain. */
function Option({ row }: { row: LedgerRow }) {
  const { target } = useProject();
  const { clip, measurement } = row.entry;
  const level = clipLevel(measurement, clip.gain.db, target);
  return (
    <Box
      role="option"
      id={`ladder-${clip.id}`}
      aria-selected
      data-ladder-clip={clip.name}
      data-lufs={level.lufs ?? ''}
      data-gain={clip.gain.db}
      sx={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', opacity: 0 }}
    >
      {clip.name}, {levelWords(level)}, true peak {figure(level.truePeakDbtp)} dBTP, gain{' '}
      {gainText(clip.gain.db)}
    </Box>
  );
}

/** Every clip a bar around the horizon; dragged, it takes its gain along. Its selection is that of the lanes. */
export function Ladder({ sheetActions }: Props) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const ghosts = useSessionState((state) => state.ghosts);
  const entries = useMeasuredClips(project.clips);
  const mode = useThemeMode();
  const [by, setBy] = useState<GroupBy>('track');
  const [zoom, setZoom] = useState(1);
  const [chosenForm, setForm] = useState<'bars' | 'distribution' | null>(null);
  const [current, setCurrent] = useState<Id | null>(null);
  const [scrollLeft, setScrollLeft] = useState(0);
  const [drag, setDrag] = useState<{ x: number; y: number } | null>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height: outer } = useElementSize(scroller);
  const height = Math.max(60, outer - NAMES_HEIGHT - 14);
  const { target } = project;
  const form = chosenForm ?? (project.clips.length > MOST_BARS ? 'distribution' : 'bars');

  const layout = useMemo(() => {
    const rows = entries.map((entry) => ledgerRow(entry, target));
    return layOut(grouped(rows, project, by), width, zoom);
  }, [entries, target, project, by, width, zoom]);
  const currentRow =
    layout.rows.find((row) => row.entry.clip.id === current) ??
    layout.rows.find((row) => selection.has(row.entry.clip.id)) ??
    layout.rows[0];
  const currentId = currentRow?.entry.clip.id;

  useEffect(() => {
    const element = canvas.current;
    const context = element && width > 0 ? freshContext(element, width, height) : null;
    if (!context) return;
    context.font = '10px "Inter Variable", sans-serif';
    const drawing = { layout, target, scrollLeft, width, height, selection, ghosts };
    if (form === 'bars') drawLadder(context, themeColour(mode), drawing);
    else drawDistribution(context, themeColour(mode), drawing);
  }, [layout, target, scrollLeft, width, height, selection, ghosts, form, mode]);

  useStageActions(
    useMemo(
      () => ({
        focusClip: (id: Id) => {
          setCurrent(id);
          const element = scroller.current;
          const left = leftOf(layout, id);
          element?.focus({ preventScroll: true });
          if (!element || left === null) return;
          if (left < element.scrollLeft || left + layout.slot > element.scrollLeft + element.clientWidth)
            element.scrollLeft = Math.max(0, left - element.clientWidth / 2);
        },
        ...sheetActions,
        order: () => layout.rows.map((row) => row.entry.clip.id),
        zoom: (factor: number) => setZoom((now) => Math.max(1, Math.min(6, now * factor))),
        showAll: () => setZoom(1),
      }),
      [layout, sheetActions],
    ),
  );

  const begin = (event: PointerEvent<HTMLElement>): Gesture | null => {
    if (form !== 'bars') return null;
    const rect = event.currentTarget.getBoundingClientRect();
    if (event.clientY > rect.top + height) return null;
    const row = rowAt(layout, event.clientX - rect.left + scrollLeft);
    if (!row) {
      session.select([]);
      return null;
    }
    const { clip } = row.entry;
    const add = event.ctrlKey || event.metaKey || event.shiftKey;
    if (add) {
      const next = new Set(selection);
      if (!next.delete(clip.id)) next.add(clip.id);
      session.select(next);
    } else if (!selection.has(clip.id)) session.select([clip.id]);
    setCurrent(clip.id);
    const ids = session.state.selection;
    if (!ids.has(clip.id)) return null;
    const onClick = (): void => {
      if (!add) session.select([clip.id]);
    };
    return new GainGesture(session, clip, ids, event.clientY, ladderLuPerPixel(height), onClick);
  };
  const bind = useGesture(begin, setDrag);
  const names = useMemo(() => nameBoxes(layout), [layout]);
  const column = (width - SCALE_LEFT - SCALE_RIGHT) / Math.max(1, layout.groups.length);
  const hidden = outOfSight(layout, scrollLeft, width);

  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 1.5,
          px: 1.5,
          py: 0.75,
          borderBottom: 1,
          borderColor: 'divider',
          fontSize: 12,
        }}
      >
        <TextField
          select
          label="By"
          value={by}
          onChange={(event) => setBy(event.target.value as GroupBy)}
          sx={{ width: 104 }}
        >
          <MenuItem value="track">Track</MenuItem>
          <MenuItem value="role">Role</MenuItem>
          <MenuItem value="source">Source</MenuItem>
        </TextField>
        <ToggleButtonGroup
          exclusive
          size="small"
          aria-label="How clips are shown"
          value={form}
          onChange={(_, next: 'bars' | 'distribution' | null) => next && setForm(next)}
        >
          <ToggleButton value="bars" sx={{ textTransform: 'none', py: 0.25 }}>
            Bars
          </ToggleButton>
          <ToggleButton value="distribution" sx={{ textTransform: 'none', py: 0.25 }}>
            Distribution
          </ToggleButton>
        </ToggleButtonGroup>
        {form === 'bars' && (
          <Slider
            size="small"
            aria-label="Width of the bars"
            min={1}
            max={6}
            step={0.1}
            value={zoom}
            onChange={(_, value) => setZoom(value)}
            sx={{ width: 100 }}
          />
        )}
        <Box sx={{ color: 'text.secondary' }}>
          {form === 'bars'
            ? 'Bar: from low to high short-term. Tick: integrated. Cap: true peak, dotted line: ceiling. Drag a bar to set its gain.'
            : 'How many clips stand at each LU from the target.'}
        </Box>
        {form === 'bars' && hidden.left + hidden.right > 0 && (
          <Box role="status" data-out-of-sight sx={{ ml: 'auto', whiteSpace: 'nowrap' }}>
            {hidden.left > 0 && `← ${count(hidden.left, 'clip')} `}
            {hidden.right > 0 && `${count(hidden.right, 'clip')} →`}
          </Box>
        )}
      </Box>
      <Box
        ref={scroller}
        role="listbox"
        aria-label="Ladder of clips"
        aria-multiselectable
        aria-activedescendant={currentId === undefined ? undefined : `ladder-${currentId}`}
        tabIndex={0}
        data-lanes
        data-ladder={form}
        {...(currentId !== undefined && { 'data-clip-focus': currentId })}
        onScroll={(event) => setScrollLeft(event.currentTarget.scrollLeft)}
        {...bind()}
        sx={{
          flex: 1,
          minHeight: 0,
          overflowX: 'auto',
          overflowY: 'hidden',
          position: 'relative',
          bgcolor: 'sheet.lane',
          touchAction: 'none',
          cursor: form === 'bars' ? 'ns-resize' : undefined,
          '&:focus-visible': { outlineOffset: -3 },
        }}
      >
        {currentRow && <Option row={currentRow} />}
        <Box sx={{ position: 'relative' }} style={{ width: form === 'bars' ? layout.width : width, height }}>
          <canvas
            ref={canvas}
            aria-hidden
            style={{ position: 'sticky', left: 0, display: 'block', width, height }}
          />
        </Box>
        <Box aria-hidden sx={{ position: 'relative', fontSize: 11.5, height: NAMES_HEIGHT }}>
          {layout.groups.map(({ name, rows }, index) => (
            <Box
              key={name}
              title={`${name} (${rows.length})`}
              sx={{
                position: 'absolute',
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
              style={
                form === 'bars'
                  ? { left: names[index]!.left, width: names[index]!.width, top: 2 + 14 * names[index]!.row }
                  : {
                      left: SCALE_LEFT + index * column + 8,
                      width: column - 12,
                      top: 2,
                    }
              }
            >
              {name} ({rows.length})
            </Box>
          ))}
        </Box>
      </Box>
      {drag && currentId !== undefined && <DragReadout {...drag} clipId={currentId} />}
    </Box>
  );
}

'use client';

import FitIcon from '@mui/icons-material/FitScreen';
import ZoomInIcon from '@mui/icons-material/ZoomIn';
import ZoomOutIcon from '@mui/icons-material/ZoomOut';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  type RefObject,
} from 'react';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { clock } from '@/core/text/figures';
import { useThemeMode } from '../../theme/ThemeSwitch';
import { freshContext, themeColour } from '../../ui/canvas';
import { useElementSize } from '../../ui/useElementSize';
import type { Looked } from '../looked';
import type { PanelSpec } from './plot';
import { paintCanvas } from './shapes';

const ZOOM = 1.6;
/** The least that is shown, seconds. */
const LEAST_SECONDS = 2;

/** A range of at least some seconds within the programme. */
function within({ from, to }: TimeRange, seconds: number): TimeRange {
  const length = Math.min(seconds, Math.max(Math.min(LEAST_SECONDS, seconds), to - from));
  const start = Math.max(0, Math.min(seconds - length, from));
  return { from: start, to: start + length };
}

function Panel<D>({
  spec,
  data,
  view,
  width,
}: {
  spec: PanelSpec<D>;
  data: D;
  view: TimeRange;
  width: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const mode = useThemeMode();
  useEffect(() => {
    if (!canvas.current || width === 0) return;
    const context = freshContext(canvas.current, width, spec.height);
    if (context) paintCanvas(context, spec.shapes(data, view, Math.floor(width)), themeColour(mode));
  }, [spec, data, view, width, mode]);
  return (
    <Box sx={{ borderBottom: spec.id === 'axis' ? 0 : 1, borderColor: 'divider' }}>
      <canvas
        ref={canvas}
        data-panel={spec.id}
        role="img"
        aria-label={`${spec.name} over time; the same in figures by “Table”`}
        style={{ display: 'block', width: '100%', height: spec.height }}
      />
    </Box>
  );
}

interface Props<D> {
  readonly data: D;
  /** From top to bottom, the axis of time last. */
  readonly panels: readonly PanelSpec<D>[];
  /** Length of it. */
  readonly seconds: number;
  readonly looked: Looked;
  /** What stands at a time, and what is drawn how. */
  readonly top: (seconds: number) => ReactNode;
  /** The same in figures. */
  readonly table: ReactNode;
  /** What else can be done. @param box holds the canvases */
  readonly tools: (view: TimeRange, box: RefObject<HTMLElement | null>) => ReactNode;
}

/** Charts over one axis of time, to be zoomed and walked through; a click plays from there. */
export function TimeCharts<D>({ data, panels, looked, top, table: inFigures, tools, ...props }: Props<D>) {
  const box = useRef<HTMLDivElement>(null);
  const line = useRef<HTMLDivElement>(null);
  const { width } = useElementSize(box);
  const seconds = Math.max(0.1, props.seconds);
  const [asked, setView] = useState<TimeRange | null>(null);
  const view = useMemo(() => within(asked ?? { from: 0, to: seconds }, seconds), [asked, seconds]);
  const [pointed, setPointed] = useState<number | null>(null);
  const [table, setTable] = useState(false);
  const perPixel = (view.to - view.from) / Math.max(1, width);
  const timeAt = (clientX: number): number => {
    const left = box.current?.getBoundingClientRect().left ?? 0;
    return Math.max(0, Math.min(seconds, view.from + (clientX - left) * perPixel));
  };
  const zoom = useCallback(
    (factor: number, anchor: number) => {
      setView((now) => {
        const { from, to } = now ?? { from: 0, to: seconds };
        const length = Math.max(LEAST_SECONDS, (to - from) / factor);
        const part = to > from ? (anchor - from) / (to - from) : 0.5;
        return within({ from: anchor - part * length, to: anchor + (1 - part) * length }, seconds);
      });
    },
    [seconds],
  );
  // By hand, as React's own wheel listeners cannot keep the page from scrolling.
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const { left } = element.getBoundingClientRect();
      const at = view.from + (event.clientX - left) * perPixel;
      if (event.ctrlKey || event.metaKey) return zoom(Math.exp(-event.deltaY / 300), at);
      const by = (Math.abs(event.deltaX) > Math.abs(event.deltaY) ? event.deltaX : event.deltaY) * perPixel;
      setView(within({ from: view.from + by, to: view.to + by }, seconds));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [view, perPixel, seconds, zoom]);
  const { now, playing, position } = looked;
  useEffect(() => {
    let request = 0;
    const draw = (): void => {
      const x = ((playing ? position() : now) - view.from) / perPixel;
      if (line.current) {
        line.current.style.display = x < 0 || x > width ? 'none' : 'block';
        line.current.style.transform = `translateX(${x}px)`;
      }
      if (playing) request = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(request);
  }, [now, playing, position, view.from, perPixel, width]);
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = event.shiftKey ? 10 : 1;
    const to = { ArrowLeft: now - step, ArrowRight: now + step, Home: 0, End: seconds }[event.key];
    if (to !== undefined) {
      const place = Math.max(0, Math.min(seconds, to));
      looked.go(place);
      if (place < view.from || place > view.to) {
        const half = (view.to - view.from) / 2;
        setView(within({ from: place - half, to: place + half }, seconds));
      }
    } else if (event.key === '+' || event.key === '=') zoom(ZOOM, now);
    else if (event.key === '-') zoom(1 / ZOOM, now);
    else if (event.key === '0') setView(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const play = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    looked.play(timeAt(event.clientX));
  };
  const middle = (view.from + view.to) / 2;
  const icon = (label: string, onClick: () => void, child: React.ReactNode) => (
    <Tooltip title={label}>
      <IconButton size="small" aria-label={label} onClick={onClick}>
        {child}
      </IconButton>
    </Tooltip>
  );
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, px: 1.5, py: 0.5 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>{top(pointed ?? now)}</Box>
        {icon('Zoom out (−)', () => zoom(1 / ZOOM, middle), <ZoomOutIcon fontSize="small" />)}
        {icon('Zoom in (+)', () => zoom(ZOOM, middle), <ZoomInIcon fontSize="small" />)}
        {icon('Show all of it (0)', () => setView(null), <FitIcon fontSize="small" />)}
        <ToggleButton
          value="table"
          size="small"
          selected={table}
          onChange={() => setTable(!table)}
          sx={{ textTransform: 'none', px: 1, py: 0.25 }}
        >
          Table
        </ToggleButton>
        {tools(view, box)}
      </Box>
      {table ? (
        inFigures
      ) : (
        <Box sx={{ flex: 1, minHeight: 0, overflowY: 'auto', overflowX: 'hidden', px: 1.5, pb: 1 }}>
          <Box
            ref={box}
            role="slider"
            tabIndex={0}
            data-over-time
            aria-label="Playhead over time"
            aria-valuemin={0}
            aria-valuemax={Number(seconds.toFixed(1))}
            aria-valuenow={Number(now.toFixed(1))}
            aria-valuetext={clock(now)}
            onKeyDown={onKeyDown}
            onPointerDown={play}
            onPointerMove={(event) => setPointed(timeAt(event.clientX))}
            onPointerLeave={() => setPointed(null)}
            sx={{
              position: 'relative',
              overflow: 'hidden',
              cursor: 'text',
              bgcolor: 'sheet.lane',
              touchAction: 'none',
            }}
          >
            {panels.map((spec) => (
              <Panel key={spec.id} {...{ spec, data, view, width }} />
            ))}
            <Box
              ref={line}
              aria-hidden
              sx={{
                ...{ position: 'absolute', left: 0, top: 0, bottom: 0, width: '1px' },
                ...{ bgcolor: 'text.primary', pointerEvents: 'none' },
              }}
            />
          </Box>
        </Box>
      )}
    </Box>
  );
}

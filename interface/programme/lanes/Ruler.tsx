'use client';

import Box from '@mui/material/Box';
import { useEffect, useRef, type PointerEvent } from 'react';
import { placeText } from '@/core/programme/timeText';
import { tickStep } from '../../parts/tickStep';
import { useProject, useSession } from '../../session/SessionContext';
import { HEAD_WIDTH, RULER_HEIGHT, START_DISTANCE } from './laneScale';
import { MarkerFlags } from './MarkerFlags';
import { SnapEdges } from './snapEdges';
import type { LaneView } from './useLaneView';

/** Time along the top of the lanes: a click moves the playhead, a drag chooses a range. */
export function Ruler({ view }: { view: LaneView }) {
  const session = useSession();
  const project = useProject();
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);
  const { pixelsPerSecond, scrollLeft, width } = view;
  const step = tickStep(pixelsPerSecond);
  const first = Math.floor(scrollLeft / pixelsPerSecond / step);
  const ticks = Array.from(
    { length: Math.ceil(width / pixelsPerSecond / step) + 2 },
    (_, i) => (first + i) * step,
  );

  const onPointerDown = (event: PointerEvent<HTMLElement>): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const { left } = event.currentTarget.getBoundingClientRect();
    const framesPerPixel = project.sampleRate / pixelsPerSecond;
    const edges = new SnapEdges(session, new Set(), framesPerPixel);
    const at = (x: number): number => {
      const frame = (x - left) * framesPerPixel;
      return frame + edges.pull(frame);
    };
    const startX = event.clientX;
    let dragging = false;
    const move = (moved: globalThis.PointerEvent): void => {
      dragging ||= Math.abs(moved.clientX - startX) >= START_DISTANCE;
      if (dragging) session.listening.setRange(at(startX), at(moved.clientX));
    };
    const end = (): void => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('pointercancel', end);
      stop.current = null;
    };
    const up = (): void => {
      end();
      if (!dragging) session.listening.seek((startX - left) * framesPerPixel);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('pointercancel', end);
    stop.current = end;
  };

  return (
    <Box
      sx={{
        position: 'sticky',
        top: 0,
        zIndex: 5,
        height: RULER_HEIGHT,
        display: 'flex',
        bgcolor: 'background.paper',
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <Box
        sx={{
          position: 'sticky',
          left: 0,
          zIndex: 1,
          width: HEAD_WIDTH,
          flex: 'none',
          bgcolor: 'background.paper',
          borderRight: 1,
          borderColor: 'divider',
        }}
      />
      <Box
        data-ruler
        sx={{
          position: 'relative',
          flex: 1,
          overflow: 'hidden',
          cursor: 'text',
          fontSize: 10.5,
          color: 'text.secondary',
        }}
        onPointerDown={onPointerDown}
      >
        {ticks.map((seconds) => (
          <Box
            key={seconds}
            aria-hidden
            sx={{
              position: 'absolute',
              top: 0,
              bottom: 0,
              borderLeft: 1,
              borderColor: 'divider',
              pl: 0.5,
              lineHeight: `${RULER_HEIGHT}px`,
              pointerEvents: 'none',
            }}
            style={{ left: seconds * pixelsPerSecond }}
          >
            {placeText(project, seconds * project.sampleRate, step < 1 ? 1 : 0)}
          </Box>
        ))}
        <MarkerFlags view={view} />
      </Box>
    </Box>
  );
}

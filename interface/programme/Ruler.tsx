'use client';

import Box from '@mui/material/Box';
import { clock } from '@/core/text/figures';
import { tickStep } from '../parts/tickStep';
import { HEAD_WIDTH, RULER_HEIGHT } from './laneScale';
import type { LaneView } from './useLaneView';

/** Time along the top of the lanes; a click moves the playhead. */
export function Ruler({ view, onSeek }: { view: LaneView; onSeek: (seconds: number) => void }) {
  const { pixelsPerSecond, scrollLeft, width } = view;
  const step = tickStep(pixelsPerSecond);
  const first = Math.floor(scrollLeft / pixelsPerSecond / step);
  const ticks = Array.from(
    { length: Math.ceil(width / pixelsPerSecond / step) + 2 },
    (_, i) => (first + i) * step,
  );
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
        aria-hidden
        sx={{
          position: 'relative',
          flex: 1,
          overflow: 'hidden',
          cursor: 'text',
          fontSize: 10.5,
          color: 'text.secondary',
        }}
        onPointerDown={(event) =>
          onSeek((event.clientX - event.currentTarget.getBoundingClientRect().left) / pixelsPerSecond)
        }
      >
        {ticks.map((seconds) => (
          <Box
            key={seconds}
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
            {clock(seconds, step < 1 ? 1 : 0)}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

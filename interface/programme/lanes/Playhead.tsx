'use client';

import Box from '@mui/material/Box';
import { useCallback, useRef } from 'react';
import { useProject } from '../../session/SessionContext';
import type { LaneView } from './useLaneView';
import { usePlayhead } from '../usePlayhead';

/** The line of the playhead over all lanes. */
export function Playhead({ view }: { view: LaneView }) {
  const line = useRef<HTMLDivElement>(null);
  const { sampleRate } = useProject();
  const { pixelsPerSecond } = view;
  usePlayhead(
    line,
    useCallback(
      (element, frame) => {
        element.style.transform = `translateX(${(frame / sampleRate) * pixelsPerSecond}px)`;
      },
      [sampleRate, pixelsPerSecond],
    ),
  );
  return (
    <Box
      ref={line}
      aria-hidden
      sx={{
        position: 'absolute',
        left: view.headWidth,
        top: 0,
        bottom: 0,
        width: '1px',
        bgcolor: 'text.primary',
        zIndex: 2,
        pointerEvents: 'none',
      }}
    />
  );
}

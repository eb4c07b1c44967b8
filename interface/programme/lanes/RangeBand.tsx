'use client';

import Box from '@mui/material/Box';
import { useProject, useSessionState } from '../../session/SessionContext';
import type { LaneView } from './useLaneView';

/** The chosen range, over all lanes; hatched while it repeats, so that it is told without colour. */
export function RangeBand({ view }: { view: LaneView }) {
  const { sampleRate } = useProject();
  const range = useSessionState((state) => state.range);
  const looping = useSessionState((state) => state.looping);
  if (!range) return null;
  const scale = view.pixelsPerSecond / sampleRate;
  return (
    <Box
      aria-hidden
      data-range
      sx={{
        position: 'absolute',
        top: 0,
        bottom: 0,
        zIndex: 1,
        pointerEvents: 'none',
        borderLeft: 1,
        borderRight: 1,
        borderColor: 'primary.main',
        bgcolor: 'color-mix(in srgb, var(--mui-palette-primary-main) 10%, transparent)',
        ...(looping && {
          backgroundImage:
            'repeating-linear-gradient(135deg, transparent 0 9px, color-mix(in srgb, var(--mui-palette-primary-main) 16%, transparent) 9px 11px)',
        }),
      }}
      style={{
        left: view.headWidth + range.from * scale,
        width: Math.max(1, (range.to - range.from) * scale),
      }}
    />
  );
}

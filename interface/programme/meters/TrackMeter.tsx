'use client';

import Box from '@mui/material/Box';
import { useCallback, useMemo, useRef } from 'react';
import type { Id } from '@/core/programme/model';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { NAME_STRIP } from '../lanes/laneScale';
import { useViewSettings } from '../viewSettings';
import { BAR_STYLE, meterBar, placeBar } from './meterBar';
import { holdPeaks } from './peakHolds';
import { trackLevels } from './trackLevels';
import { useStore } from 'zustand';
import { usePlayhead } from '../usePlayhead';

const SILENCE = { momentary: 0, truePeak: 0 };

/** What is stored of a track's clips at the playhead: momentary loudness as a bar from the horizon. */
export function TrackMeter({ trackId, silent }: { trackId: Id; silent: boolean }) {
  const session = useSession();
  const project = useProject();
  const measurements = useSessionState((state) => state.clipMeasurements);
  const playing = useSessionState((state) => state.playing);
  const { meterDepth } = useViewSettings();
  const bar = useRef<HTMLDivElement>(null);
  const { id, target } = project;
  const compared = useStore(session.listening.comparison.store, (state) => state.compared);
  const isHeard = !silent && compared === null;
  const levels = useMemo(
    () => trackLevels(session, project, trackId),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, measurements, trackId],
  );
  usePlayhead(
    bar,
    useCallback(
      (element, frame) => {
        // What is muted, not soloed, or not what is heard for now has nothing to show.
        const { momentary, truePeak } = isHeard ? levels.at(frame) : SILENCE;
        placeBar(element, momentary, target.integratedLufs, target.toleranceLu, meterDepth);
        if (playing) holdPeaks(`${id} ${trackId}`, { truePeak });
      },
      [levels, target, meterDepth, playing, trackId, isHeard, id],
    ),
  );
  return (
    <Box
      aria-hidden
      data-track-meter={trackId}
      sx={{ position: 'absolute', right: 0, width: 7, bottom: 0, bgcolor: 'sheet.lane' }}
      style={{ top: NAME_STRIP }}
    >
      <Box ref={bar} sx={BAR_STYLE} />
      <Box
        sx={{ position: 'absolute', left: 0, right: 0, height: '1px', bgcolor: 'sheet.horizon' }}
        style={{ top: `${meterBar(0, meterDepth).top * 100}%` }}
      />
    </Box>
  );
}

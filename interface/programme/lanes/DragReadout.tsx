'use client';

import Box from '@mui/material/Box';
import { wholeGroup } from '@/core/programme/groups';
import type { Id, Project } from '@/core/programme/model';
import { figure } from '@/core/text/figures';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { clipLevel, gainText, levelWords } from '../clipLevel';

/** Gain and resulting loudness beside the hand that drags a waterline. */
export function DragReadout({ x, y, clipId }: { x: number; y: number; clipId: Id }) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const resting = useSessionState((state) => state.history.project);
  const clip = project.clips.find((candidate) => candidate.id === clipId);
  if (!clip) return null;
  // Of a whole group it is the group's gain that moves.
  const gainIn = (of: Project): number =>
    (wholeGroup(of, selection) ?? of.clips.find(({ id }) => id === clipId))?.gain.db ?? 0;
  const gainDb = gainIn(project);
  const level = clipLevel(session.clipMeasurements(project)(clip), clip.gain.db, project.target);
  return (
    <Box
      role="status"
      data-readout
      sx={{
        position: 'fixed',
        zIndex: 30,
        px: 1,
        py: 0.5,
        borderRadius: 1,
        bgcolor: 'text.primary',
        color: 'background.paper',
        fontSize: 12,
        lineHeight: 1.35,
        pointerEvents: 'none',
        whiteSpace: 'nowrap',
      }}
      style={{ left: Math.min(x + 16, window.innerWidth - 260), top: Math.max(4, y - 46) }}
    >
      <strong>{gainText(gainDb)}</strong> ({gainText(gainDb - gainIn(resting))} from before)
      <br />
      {levelWords(level)}; true peak {figure(level.truePeakDbtp)} dBTP
      {level.overCeiling && ', over the ceiling'}
    </Box>
  );
}

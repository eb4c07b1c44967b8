'use client';

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { measuredClip } from '@/core/proposals/proposal';
import { sectionLevel } from '@/core/proposals/sectionLevels';
import { curveSections, type CurveSection } from '@/core/programme/curve';
import { wholeGroup } from '@/core/programme/groups';
import type { Id, Project } from '@/core/programme/model';
import { inProgramme, sectionSeconds } from '@/core/programme/sections';
import { figure, withUnit } from '@/core/text/figures';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { clipLevel } from '@/core/check/clipLevel';
import { gainText, levelWords } from '../clipLevel';

interface Props {
  /** Where the pointer is, client pixels. */
  readonly x: number;
  readonly y: number;
  readonly clipId: Id;
  /** The part that is moved, where it is not all of the clip. */
  readonly part?: CurveSection | null;
}

/** What is told beside a hand. */
function Readout({ x, y, children }: Pick<Props, 'x' | 'y'> & { children: ReactNode }) {
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
      {children}
    </Box>
  );
}

/** Gain of a part and how loud it becomes, from what is measured of the clip at rest. */
function PartReadout({ x, y, clipId, part }: Props & { readonly part: CurveSection }) {
  const session = useSession();
  const project = useProject();
  const resting = useSessionState((state) => state.history.project);
  const clip = project.clips.find(({ id }) => id === clipId);
  const before = resting.clips.find(({ id }) => id === clipId);
  if (!clip || !before) return null;
  const middle = (part.from + part.to) / 2;
  const now = curveSections(clip).find(({ from, to }) => from <= middle && middle < to)?.db ?? 0;
  const change = now - part.db;
  const measurement = session.clipMeasurements(resting)(before);
  const frames = { from: inProgramme(before, part.from), to: inProgramme(before, part.to) };
  const level =
    measurement &&
    sectionLevel(
      { ...measuredClip(before, measurement), measurement },
      sectionSeconds(before, frames, project.sampleRate),
    );
  return (
    <Readout x={x} y={y}>
      <strong>{gainText(now)}</strong> on this part ({gainText(change)} from before)
      <br />
      {level?.lufs == null
        ? ''
        : `${withUnit(level.lufs + change, 'LUFS')}${level.restLufs === null ? '' : `; the rest of the clip ${withUnit(level.restLufs, 'LUFS')}`}`}
    </Readout>
  );
}

/** Gain and resulting loudness beside the pointer that drags a waterline, or a part of it. */
export function DragReadout({ x, y, clipId, part = null }: Props) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const resting = useSessionState((state) => state.history.project);
  if (part) return <PartReadout x={x} y={y} clipId={clipId} part={part} />;
  const clip = project.clips.find((candidate) => candidate.id === clipId);
  if (!clip) return null;
  // Of a whole group it is the group's gain that moves.
  const gainIn = (of: Project): number =>
    (wholeGroup(of, selection) ?? of.clips.find(({ id }) => id === clipId))?.gain.db ?? 0;
  const gainDb = gainIn(project);
  const level = clipLevel(session.clipMeasurements(project)(clip), clip.gain.db, project.target);
  return (
    <Readout x={x} y={y}>
      <strong>{gainText(gainDb)}</strong> ({gainText(gainDb - gainIn(resting))} from before)
      <br />
      {levelWords(level)}; true peak {figure(level.truePeakDbtp)} dBTP
      {level.overCeiling && ', over the ceiling'}
    </Readout>
  );
}

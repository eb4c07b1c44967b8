'use client';

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { measuredClip } from '@/core/proposals/proposal';
import { sectionLevel } from '@/core/proposals/sectionLevels';
import { curveSections, SILENT_DB, type CurveSection } from '@/core/programme/curve';
import { fadeOf, type FadeSide } from '@/core/programme/edits/fades';
import { wholeGroup } from '@/core/programme/groups';
import type { Id, Project } from '@/core/programme/model';
import { inProgramme, sectionSeconds } from '@/core/programme/sections';
import { placeText } from '@/core/programme/timeText';
import { figure, withUnit } from '@/core/text/figures';
import { fadeShapeWords, secondsText } from '../../ui/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { clipLevel } from '@/core/check/clipLevel';
import { gainText, levelWords } from '../clipLevel';

interface Props {
  /** Where the pointer is, client pixels. */
  readonly x: number;
  readonly y: number;
  /** The clip, or the track whose curve it is. */
  readonly clipId: Id | null;
  readonly trackId?: Id | null;
  /** The part that is moved, where it is not all of the clip. */
  readonly part?: CurveSection | null;
  /** The fade that is dragged. */
  readonly fade?: FadeSide | null;
  /** Which point of the clip's curve is dragged. */
  readonly point?: number | null;
}

/** What is told beside the pointer. */
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

/** A point of a clip's curve: where it is, its gain, and how loud the clip is there. */
function PointReadout({ x, y, clipId, point }: Pick<Props, 'x' | 'y'> & { clipId: Id; point: number }) {
  const session = useSession();
  const project = useProject();
  const clip = project.clips.find(({ id }) => id === clipId);
  const held = clip?.curve[point];
  if (!clip || !held) return null;
  const { lufs } = clipLevel(session.clipMeasurements(project)(clip), clip.gain.db, project.target);
  return (
    <Readout x={x} y={y}>
      <strong>{pointText(held.db)}</strong> at {placeText(project, inProgramme(clip, held.at))}
      <br />
      {lufs !== null && held.db > SILENT_DB && `The clip at this gain: ${withUnit(lufs + held.db, 'LUFS')}`}
    </Readout>
  );
}

const pointText = (db: number): string => (db <= SILENT_DB ? 'silent' : gainText(db));

/** A point of a track's curve. */
function TrackPointReadout({
  x,
  y,
  trackId,
  point,
}: Pick<Props, 'x' | 'y'> & { trackId: Id; point: number }) {
  const project = useProject();
  const track = project.tracks.find(({ id }) => id === trackId);
  const held = track?.curve[point];
  if (!track || !held) return null;
  return (
    <Readout x={x} y={y}>
      <strong>{pointText(held.db)}</strong> at {placeText(project, held.at)}
      <br />
      All of track {track.name}
    </Readout>
  );
}

/** How long a fade is. */
function FadeReadout({ x, y, clipId, fade }: Props & { fade: FadeSide }) {
  const project = useProject();
  const clip = project.clips.find(({ id }) => id === clipId);
  if (!clip) return null;
  const { length, shape } = fadeOf(clip, fade);
  return (
    <Readout x={x} y={y}>
      Fade {fade} <strong>{secondsText(length / project.sampleRate)}</strong>
      <br />
      {fadeShapeWords(shape)}
    </Readout>
  );
}

/** Gain and resulting loudness beside the pointer that drags a waterline, or a part of it. */
export function DragReadout(props: Props) {
  const { x, y, clipId, trackId = null, part = null, fade = null, point = null } = props;
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const resting = useSessionState((state) => state.history.project);
  if (fade) return <FadeReadout {...props} fade={fade} />;
  if (trackId !== null && point !== null)
    return <TrackPointReadout x={x} y={y} trackId={trackId} point={point} />;
  if (clipId !== null && point !== null) return <PointReadout x={x} y={y} clipId={clipId} point={point} />;
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

import { useCallback, useMemo } from 'react';
import type { PlaceTold } from '@/core/levelling/explain';
import type { MeasuredClip } from '@/core/levelling/proposal';
import type { Clip, Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { clipKey } from '@/core/signal/clipKey';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import type { Session } from '../session/session';

/** When somebody speaks in a clip, seconds of it, as its source's subtitles say. */
function speechOf(project: Project): (clip: Clip) => MeasuredClip['speech'] {
  const speech = new Map(project.sources.map((source) => [source.id, source.speech]));
  return (clip) => {
    const said = speech.get(clip.sourceId);
    if (!said) return null;
    const begin = clip.sourceStart / project.sampleRate;
    const length = clip.length / project.sampleRate;
    return said.ranges
      .map(({ from, to }) => ({ from: Math.max(0, from - begin), to: Math.min(length, to - begin) }))
      .filter(({ from, to }) => from < to);
  };
}

/** Clips with what is measured of each, for levelling. */
export function measuredClips(session: Session, project: Project, clips: readonly Clip[]): MeasuredClip[] {
  const measurementOf = session.clipMeasurements(project);
  const speech = speechOf(project);
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  return clips.map((clip) => ({
    clip,
    damage: sources.get(clip.sourceId)?.warnings ?? [],
    measurement: measurementOf(clip),
    speech: speech(clip),
    key: clipKey(project, clip),
  }));
}

/** The same, kept up to date as measurements come in. */
export function useMeasuredClips(clips: readonly Clip[]): readonly MeasuredClip[] {
  const session = useSession();
  const project = useProject();
  const measurements = useSessionState((state) => state.clipMeasurements);
  return useMemo(
    () => measuredClips(session, project, clips),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, clips, measurements],
  );
}

/** Tells a place in a clip as the programme's time. */
export function usePlaceTold(): PlaceTold {
  const project = useProject();
  const { time, sampleRate } = project;
  return useCallback(
    (clip, seconds) => placeText({ time, sampleRate }, clip.start + seconds * sampleRate),
    [time, sampleRate],
  );
}

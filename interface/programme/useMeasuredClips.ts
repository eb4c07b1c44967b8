import { useCallback, useMemo } from 'react';
import type { PlaceTold } from '@/core/proposals/explain';
import { measuredClip, type MeasuredClip } from '@/core/proposals/proposal';
import { besidesDbOf } from '@/core/programme/clipGain';
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
  const besides = besidesDbOf(project);
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  return clips.map((clip) =>
    measuredClip(clip, measurementOf(clip), {
      damage: sources.get(clip.sourceId)?.warnings ?? [],
      speech: speech(clip),
      key: clipKey(project, clip),
      besidesDb: besides(clip),
    }),
  );
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

/** The same of the programme at rest, whatever is previewed: a proposal does not rest on itself. */
export function useMeasuredAtRest(clips: readonly Clip[]): readonly MeasuredClip[] {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const measurements = useSessionState((state) => state.clipMeasurements);
  return useMemo(
    () => measuredClips(session, project, clips),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, clips, measurements],
  );
}

/** Tells a place in a clip as the programme's time. */
export function usePlaceTold(): PlaceTold {
  // At rest: what a proposal shows for a moment must not change the proposal.
  const { time, sampleRate, clips } = useSessionState((state) => state.history.project);
  const starts = useMemo(() => new Map(clips.map(({ id, start }) => [id, start])), [clips]);
  return useCallback(
    (id, seconds) => placeText({ time, sampleRate }, (starts.get(id) ?? 0) + seconds * sampleRate),
    [time, sampleRate, starts],
  );
}

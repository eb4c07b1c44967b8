import { useCallback, useMemo } from 'react';
import type { PlaceTold } from '@/core/proposals/explain';
import { measuredClips as clipsAsMeasured } from '@/core/proposals/measuredClips';
import type { MeasuredClip } from '@/core/proposals/proposal';
import type { Clip, Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import type { Session } from '../session/session';

/** Clips with what is measured of each, for levelling. */
export const measuredClips = (session: Session, project: Project, clips: readonly Clip[]): MeasuredClip[] =>
  clipsAsMeasured(project, clips, session.clipMeasurements(project));

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

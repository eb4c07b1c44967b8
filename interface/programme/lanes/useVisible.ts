import { useMemo } from 'react';
import { totalDbOf } from '@/core/programme/clipGain';
import { outermostOf } from '@/core/programme/groups';
import { clipEnd, type Clip, type Id, type Project, type Source } from '@/core/programme/model';
import { withBaseGain, type ClipMeasurement } from '@/core/measuring/measureClip';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { sourceKey } from '@/storage/measurements';
import { ownMeasurements } from '../../session/clipMeasurements';
import { isAbsent } from '../../session/sounds';
import { useSessionState } from '../../session/SessionContext';
import { DRAWN_WIDTH } from './laneScale';
import type { LaneView } from './useLaneView';

/** A clip with all that its drawing needs. */
export interface DrawnClip {
  readonly clip: Clip;
  readonly source: Source | undefined;
  readonly overview: SoundMeasurement | undefined;
  /** The gain with which it sounds, dB. */
  readonly totalDb: number;
  /** Before its own gain. */
  readonly measurement: ClipMeasurement | null;
  /** Its sound is not in this browser. */
  readonly missing: boolean;
  /** Name of the outermost group it belongs to. */
  readonly groupName: string | null;
}

/** Pixels beyond the edge within which clips are kept ready. */
const MARGIN = 200;

/** Whether a clip is too narrow to be more than drawn. @param pixelsPerFrame of the programme */
export const isSmall = ({ length }: Clip, pixelsPerFrame: number): boolean =>
  length * pixelsPerFrame < DRAWN_WIDTH;

/** All clips with what their drawing needs: not anew while what is seen of them moves. */
function useDrawn(project: Project): readonly DrawnClip[] {
  const overviews = useSessionState((state) => state.sourceMeasurements);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const resting = useSessionState((state) => state.history.project);
  const absent = useSessionState((state) => state.absent);
  return useMemo(() => {
    const sources = new Map(project.sources.map((source) => [source.id, source]));
    const totalDb = totalDbOf(project);
    const outermost = outermostOf(project);
    const own = ownMeasurements(measurements, project, resting);
    return project.clips.map((clip) => {
      const source = sources.get(clip.sourceId);
      const measurement = own(clip);
      return {
        clip,
        source,
        missing: source === undefined || isAbsent(absent, source.audioKey),
        overview: source && overviews.get(sourceKey(source)),
        totalDb: totalDb(clip),
        measurement: measurement && withBaseGain(measurement, totalDb(clip) - clip.gain.db),
        groupName: outermost(clip)?.name ?? null,
      };
    });
  }, [project, resting, overviews, measurements, absent]);
}

/** The clips in sight, by track. */
export function useVisible(project: Project, view: LaneView): ReadonlyMap<Id, readonly DrawnClip[]> {
  const drawn = useDrawn(project);
  const { pixelsPerSecond, scrollLeft, width } = view;
  return useMemo(() => {
    const pixelsPerFrame = pixelsPerSecond / project.sampleRate;
    const from = (scrollLeft - MARGIN) / pixelsPerFrame;
    const to = (scrollLeft + width + MARGIN) / pixelsPerFrame;
    const byTrack = new Map<Id, DrawnClip[]>(project.tracks.map((track) => [track.id, []]));
    for (const one of drawn)
      if (clipEnd(one.clip) >= from && one.clip.start <= to) byTrack.get(one.clip.trackId)?.push(one);
    return byTrack;
  }, [drawn, project, pixelsPerSecond, scrollLeft, width]);
}

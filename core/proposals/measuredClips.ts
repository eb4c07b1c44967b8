import { withBaseGain, type ClipMeasurement } from '@/core/measuring/measureClip';
import { baseDbOf, besidesDbOf } from '@/core/programme/clipGain';
import type { Clip, Project } from '@/core/programme/model';
import { speechInClip } from '@/core/programme/dialogue';
import { clipKey } from '@/core/signal/clipKey';
import { isCurveStale } from './curveFor';
import { measuredClip, type MeasuredClip } from './proposal';

/** Clips with what is measured of each, for levelling. @param measurementOf before its own gain, with all else that lies on it */
export function measuredClips(
  project: Project,
  clips: readonly Clip[],
  measurementOf: (clip: Clip) => ClipMeasurement | null,
): MeasuredClip[] {
  const speech = speechInClip(project);
  const besides = besidesDbOf(project);
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const tracks = new Map(project.tracks.map(({ id, gainDb }) => [id, gainDb]));
  return clips.map((clip) =>
    measuredClip(clip, measurementOf(clip), {
      damage: sources.get(clip.sourceId)?.warnings ?? [],
      speech: speech(clip),
      key: clipKey(project, clip),
      besidesDb: besides(clip),
      curveStale: isCurveStale(project, clip),
      limitedOverDbtp: limitedOver(clip, tracks.get(clip.trackId) ?? 0),
    }),
  );
}

/** Over which true peak, as it is heard, a clip's limiter takes something off, dBTP; `null` without a limiter. */
function limitedOver({ limiter }: Clip, trackDb: number): number | null {
  if (!limiter || limiter.bypassed) return null;
  // A gain of its own is in none of the figures either.
  return limiter.inputDb === 0 ? limiter.ceilingDbtp + trackDb : -Infinity;
}

/** A clip's measurement as it stands in its programme: with all that lies on it besides its own gain. */
export function standingMeasurement(
  project: Project,
  measured: (clip: Clip) => ClipMeasurement | null,
): (clip: Clip) => ClipMeasurement | null {
  const base = baseDbOf(project);
  return (clip) => {
    const measurement = measured(clip);
    return measurement && withBaseGain(measurement, base(clip));
  };
}

import { withBaseGain, type ClipMeasurement } from '@/core/measuring/measureClip';
import { baseDbOf, besidesDbOf } from '@/core/programme/clipGain';
import type { Clip, Project } from '@/core/programme/model';
import { clipKey } from '@/core/signal/clipKey';
import { measuredClip, type MeasuredClip } from './proposal';

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

/** Clips with what is measured of each, for levelling. @param measurementOf before its own gain, with all else that lies on it */
export function measuredClips(
  project: Project,
  clips: readonly Clip[],
  measurementOf: (clip: Clip) => ClipMeasurement | null,
): MeasuredClip[] {
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

import type { Clip, Project } from '@/core/programme/model';
import { clipKey } from '@/core/signal/clipKey';
import type { ClipMeasurement } from '@/core/measuring/measureClip';

/** Measurements by clip key. */
export type ClipMeasurements = ReadonlyMap<string, ClipMeasurement>;

/** So many more measurements than clips are kept at hand: those of states just left. */
const SPARE = 200;

/**
 * Each clip's own measurement, before all gains. What is just being dragged shows that of the clip at rest until its own is
 * there.
 */
export function ownMeasurements(
  measurements: ClipMeasurements,
  project: Project,
  resting: Project,
): (clip: Clip) => ClipMeasurement | null {
  const atRest = project === resting ? null : new Map(resting.clips.map((clip) => [clip.id, clip]));
  return (clip) => {
    const key = clipKey(project, clip);
    const measurement = key && measurements.get(key);
    if (measurement) return measurement;
    const before = atRest?.get(clip.id);
    const restingKey = before && clipKey(resting, before);
    return (restingKey && measurements.get(restingKey)) || null;
  };
}

/** The measurements with new ones; once there are far more than clips, only those of clips that there are. @param projects as it rests and as it is shown */
export function withMeasurements(
  measurements: ClipMeasurements,
  added: ClipMeasurements,
  projects: readonly Project[],
): ClipMeasurements {
  const all = new Map([...measurements, ...added]);
  const clips = projects.reduce((sum, project) => sum + project.clips.length, 0);
  if (all.size <= 2 * clips + SPARE) return all;
  const wanted = new Set(projects.flatMap((project) => project.clips.map((clip) => clipKey(project, clip))));
  return new Map([...all].filter(([key]) => wanted.has(key)));
}

import { group } from 'd3-array';
import { TrackLevels } from '@/core/measuring/trackLevels';
import type { Id, Project } from '@/core/programme/model';
import type { ClipMeasurements } from '../../session/clipMeasurements';
import type { Session } from '../../session/session';

interface Made {
  readonly resting: Project;
  readonly measurements: ClipMeasurements;
  readonly levels: ReadonlyMap<Id, TrackLevels>;
}

const made = new WeakMap<Project, Made>();
const NONE = new TrackLevels([], () => null, 1);

/** What is stored of the clips of a track: worked out once for all tracks, each of which asks. */
export function trackLevels(session: Session, project: Project, trackId: Id): TrackLevels {
  const resting = session.project;
  const measurements = session.state.clipMeasurements;
  const known = made.get(project);
  if (known?.resting === resting && known.measurements === measurements)
    return known.levels.get(trackId) ?? NONE;
  const byTrack = group(project.clips, ({ trackId }) => trackId);
  const measurementOf = session.clipMeasurements(project);
  const levels = new Map(
    [...byTrack].map(([id, clips]) => [id, new TrackLevels(clips, measurementOf, project.sampleRate)]),
  );
  made.set(project, { resting, measurements, levels });
  return levels.get(trackId) ?? NONE;
}

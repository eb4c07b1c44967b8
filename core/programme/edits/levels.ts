import { MAX_TRACK_GAIN_DB, MAX_TRIM_DB } from '../gainField';
import type { Id, Project } from '../model';

const within = (db: number, most: number): number => Math.min(most, Math.max(-most, db));

/** Sets a track's gain: all its clips go up or down, and their relation stays. Held within ±{@link MAX_TRACK_GAIN_DB}. */
export function setTrackGain(project: Project, trackIds: ReadonlySet<Id>, db: number): Project {
  return {
    ...project,
    tracks: project.tracks.map((track) =>
      trackIds.has(track.id) ? { ...track, gainDb: within(db, MAX_TRACK_GAIN_DB) } : track,
    ),
  };
}

/**
 * Moves the level of everything by the same amount: each track's gain once, and nothing else, so that nothing falls
 * twice. Where one track could not go so far, all stop together and their balance stays.
 */
export function moveEverything(project: Project, byDb: number): Project {
  const gains = project.tracks.map(({ gainDb }) => gainDb);
  const least = -MAX_TRACK_GAIN_DB - Math.min(...gains);
  const most = MAX_TRACK_GAIN_DB - Math.max(...gains);
  const by = Math.min(most, Math.max(least, byDb));
  if (by === 0 || gains.length === 0) return project;
  return { ...project, tracks: project.tracks.map((track) => ({ ...track, gainDb: track.gainDb + by })) };
}

/**
 * Corrects sources: every clip placed from now on begins with this trim. Held within ±{@link MAX_TRIM_DB}.
 * @param alsoPlaced give it to the clips that are placed already as well
 */
export function setSourceTrim(
  project: Project,
  sourceIds: ReadonlySet<Id>,
  db: number,
  alsoPlaced: boolean,
): Project {
  const trimDb = within(db, MAX_TRIM_DB);
  return {
    ...project,
    sources: project.sources.map((source) => (sourceIds.has(source.id) ? { ...source, trimDb } : source)),
    clips: alsoPlaced
      ? project.clips.map((clip) =>
          sourceIds.has(clip.sourceId) && clip.trimDb !== trimDb ? { ...clip, trimDb } : clip,
        )
      : project.clips,
  };
}

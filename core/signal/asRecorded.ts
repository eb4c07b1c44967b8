import type { Project } from '@/core/programme/model';
import { CLIP_PATH, PROGRAMME_PATH, TRACK_PATH } from './path';

/** The programme as its sources were recorded: nothing that was done to levels on its path. Cuts, places and fades stay. */
export function asRecorded(project: Project): Project {
  return [...CLIP_PATH, ...TRACK_PATH, ...PROGRAMME_PATH].reduce(
    (state, station) => station.asRecorded?.(state) ?? state,
    project,
  );
}

/** The same programme louder or quieter as a whole, for listening: no limit of what a track can have holds it. */
export function shifted(project: Project, db: number): Project {
  return { ...project, tracks: project.tracks.map((track) => ({ ...track, gainDb: track.gainDb + db })) };
}

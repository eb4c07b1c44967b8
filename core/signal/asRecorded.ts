import type { Limiter, Project } from '@/core/programme/model';
import { gainCurve, programmeCurve, trackCurve } from './gainCurve';
import { SPEECH_AND_MUSIC } from './limiter/presets';
import { clipLimiter, programmeLimiter, trackLimiter } from './limiter/station';
import { CLIP_PATH, PROGRAMME_PATH, TRACK_PATH } from './path';
import type { Station } from './station';

/** The programme as its sources were recorded: nothing that was done to levels on its path. Cuts, places and fades stay. */
export const asRecorded = (project: Project): Project =>
  without(project, [...CLIP_PATH, ...TRACK_PATH, ...PROGRAMME_PATH]);

/** A project without what was done to levels at some stations. */
const without = (project: Project, stations: readonly Pick<Station<never>, 'asRecorded'>[]): Project =>
  stations.reduce((state, station) => station.asRecorded?.(state) ?? state, project);

/** The programme without its gain curves. */
export const withoutCurves = (project: Project): Project =>
  without(project, [gainCurve, trackCurve, programmeCurve]);

/** Whether anything in a programme has a gain curve. */
export const hasCurves = ({ clips, tracks, curve }: Project): boolean =>
  [{ curve }, ...tracks, ...clips].some((one) => one.curve.length > 0);

const LIMITERS = [clipLimiter, trackLimiter, programmeLimiter];

/** Whether any limiter is on the path of a programme. */
export const hasLimiters = ({ clips, tracks, limiter }: Project): boolean =>
  [{ limiter }, ...tracks, ...clips].some((one) => one.limiter !== null && !one.limiter.bypassed);

/** The programme without its limiters; the same where it has none. */
export const withoutLimiters = (project: Project): Project =>
  hasLimiters(project) ? without(project, LIMITERS) : project;

/**
 * The same programme louder or quieter as a whole, for listening: no limit of what a track can have holds it, and the ceilings of
 * limiters behind the tracks' gains move along, so that they do the same.
 */
export function shifted(project: Project, db: number): Project {
  const moved = (limiter: Limiter | null): Limiter | null =>
    limiter && { ...limiter, ceilingDbtp: limiter.ceilingDbtp + db };
  return {
    ...project,
    tracks: project.tracks.map((track) => ({
      ...track,
      gainDb: track.gainDb + db,
      limiter: moved(track.limiter),
    })),
    limiter: moved(project.limiter),
  };
}

/** A programme as it sounds after a gain on all of it, and a limiter of a ceiling behind that where one is given. */
export function playedAt(project: Project, gainDb: number, ceilingDbtp: number | null): Project {
  const played = shifted(project, gainDb);
  if (ceilingDbtp === null) return played;
  const { limiter } = played;
  const own = limiter && !limiter.bypassed ? limiter : SPEECH_AND_MUSIC;
  const ceiling = own === limiter ? Math.min(own.ceilingDbtp, ceilingDbtp) : ceilingDbtp;
  return { ...played, limiter: { ...own, ceilingDbtp: ceiling } };
}

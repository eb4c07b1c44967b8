import { MAX_CLIP_GAIN_DB, MIN_CLIP_GAIN_DB } from './gainField';
import type { Clip, Id, Project } from './model';

/** What sounds besides a clip's own gain: its source's trim and its track's gain, dB. */
export function baseDb(project: Project, clip: Clip): number {
  const track = project.tracks.find(({ id }) => id === clip.trackId);
  return clip.trimDb + (track?.gainDb ?? 0);
}

/** The gain with which a clip sounds, for all clips of a project: own gain, trim and track, dB. */
export function totalDbOf(project: Project): (clip: Clip) => number {
  const tracks = new Map<Id, number>(project.tracks.map(({ id, gainDb }) => [id, gainDb]));
  return ({ gain, trimDb, trackId }) => gain.db + trimDb + (tracks.get(trackId) ?? 0);
}

/** How far the gain of all these clips can go by the same amount, dB. */
export function gainRoom(clips: readonly Clip[]): { readonly minDb: number; readonly maxDb: number } {
  const gains = clips.map(({ gain }) => gain.db);
  return {
    minDb: MIN_CLIP_GAIN_DB - gains.reduce((a, b) => Math.min(a, b), MAX_CLIP_GAIN_DB),
    maxDb: MAX_CLIP_GAIN_DB - gains.reduce((a, b) => Math.max(a, b), MIN_CLIP_GAIN_DB),
  };
}

import { roomOf, type GainRoom } from '../clipGain';
import { MAX_TRIM_DB, TRACK_GAIN } from '../gainField';
import type { Clip, Id, Project } from '../model';

const within = (db: number, most: number): number => Math.min(most, Math.max(-most, db));

/** A track and those linked to it. */
export function linkedTracks(project: Project, trackId: Id): ReadonlySet<Id> {
  const linkId = project.tracks.find(({ id }) => id === trackId)?.linkId ?? null;
  return new Set([
    trackId,
    ...project.tracks.filter((track) => linkId !== null && track.linkId === linkId).map(({ id }) => id),
  ]);
}

/** How far a track's gain can go with those linked to it, dB from where they are. */
export function trackRoom(project: Project, trackId: Id): GainRoom {
  const linked = linkedTracks(project, trackId);
  return roomOf(
    project.tracks.flatMap(({ id, gainDb }) => (linked.has(id) ? [gainDb] : [])),
    TRACK_GAIN,
  );
}

/** How far the gain of all tracks can go by the same amount, dB from where they are. */
export const everythingRoom = ({ tracks }: Project): GainRoom =>
  roomOf(
    tracks.map(({ gainDb }) => gainDb),
    TRACK_GAIN,
  );

/**
 * Moves a track's gain, and by the same amount that of the tracks linked to it: all their clips go up or down and their
 * relation stays. Where one could go no further all stop together.
 */
export function moveTrackGain(project: Project, trackId: Id, byDb: number): Project {
  const { minDb, maxDb } = trackRoom(project, trackId);
  const by = Math.min(maxDb, Math.max(minDb, byDb));
  if (by === 0) return project;
  const linked = linkedTracks(project, trackId);
  return {
    ...project,
    tracks: project.tracks.map((track) =>
      linked.has(track.id) ? { ...track, gainDb: track.gainDb + by } : track,
    ),
  };
}

/** Brings a track's gain to a value; those linked to it move by as much. */
export function setTrackGain(project: Project, trackId: Id, db: number): Project {
  const track = project.tracks.find(({ id }) => id === trackId);
  return track ? moveTrackGain(project, trackId, db - track.gainDb) : project;
}

/** Links tracks, so that their gains move together; what they were linked to before stays out of it. */
export function linkTracks(project: Project, trackIds: ReadonlySet<Id>, linkId: Id): Project {
  return withoutLoneLinks({
    ...project,
    tracks: project.tracks.map((track) => (trackIds.has(track.id) ? { ...track, linkId } : track)),
  });
}

export function unlinkTrack(project: Project, trackId: Id): Project {
  return withoutLoneLinks({
    ...project,
    tracks: project.tracks.map((track) => (track.id === trackId ? { ...track, linkId: null } : track)),
  });
}

/** A track linked to nothing is not linked. */
export function withoutLoneLinks(project: Project): Project {
  const members = new Map<Id, number>();
  for (const { linkId } of project.tracks)
    if (linkId !== null) members.set(linkId, (members.get(linkId) ?? 0) + 1);
  return {
    ...project,
    tracks: project.tracks.map((track) =>
      track.linkId !== null && members.get(track.linkId) === 1 ? { ...track, linkId: null } : track,
    ),
  };
}

/**
 * Moves the level of everything by the same amount: each track's gain once, and nothing else, so that nothing falls
 * twice, and every clip keeps its gain and the reason for it. Where one track could not go so far, all stop together and their
 * balance stays. What a plan that was carried out wants moves along.
 */
export function moveEverything(project: Project, byDb: number): Project {
  const { minDb, maxDb } = everythingRoom(project);
  const by = Math.min(maxDb, Math.max(minDb, byDb));
  if (by === 0 || project.tracks.length === 0) return project;
  return {
    ...project,
    planAnchorLufs: project.planAnchorLufs === null ? null : project.planAnchorLufs + by,
    tracks: project.tracks.map((track) => ({
      ...track,
      gainDb: track.gainDb + by,
      shiftDb: track.shiftDb + by,
    })),
  };
}

/**
 * Corrects sources: every clip placed from now on begins with their trim. Held within ±{@link MAX_TRIM_DB}.
 * @param trims dB, by source
 * @param alsoPlaced clips that are placed already get the trim as well; `'change'`: theirs changes by as much
 */
export function setSourceTrims(
  project: Project,
  trims: ReadonlyMap<Id, number>,
  alsoPlaced: boolean | 'change',
): Project {
  const changes = new Map<Id, number>();
  const sources = project.sources.map((source) => {
    const db = trims.get(source.id);
    if (db === undefined) return source;
    const trimDb = within(db, MAX_TRIM_DB);
    changes.set(source.id, trimDb - source.trimDb);
    return trimDb === source.trimDb ? source : { ...source, trimDb };
  });
  const trimmed = (clip: Clip): Clip => {
    const by = changes.get(clip.sourceId);
    if (by === undefined) return clip;
    const trimDb =
      alsoPlaced === 'change' ? clip.trimDb + by : within(trims.get(clip.sourceId)!, MAX_TRIM_DB);
    return trimDb === clip.trimDb ? clip : { ...clip, trimDb };
  };
  return { ...project, sources, clips: alsoPlaced ? project.clips.map(trimmed) : project.clips };
}

import { CLIP_GAIN, GROUP_GAIN, type GainRange } from './gainField';
import { groupDbOf, wholeGroup } from './groups';
import type { Clip, Id, Project } from './model';

/** What lies on a clip itself: its gain, its trim and the gains of its groups, dB. */
export const ownDb = ({ gain, trimDb }: Pick<Clip, 'gain' | 'trimDb'>, groupsDb: number): number =>
  gain.db + (trimDb + groupsDb);

/** What the track and the groups of a clip give it, for all clips of a project, dB. */
export function besidesDbOf(project: Project): (clip: Clip) => number {
  const tracks = new Map<Id, number>(project.tracks.map(({ id, gainDb }) => [id, gainDb]));
  const groups = groupDbOf(project);
  return ({ trackId, groupId }) => (tracks.get(trackId) ?? 0) + (groupId === null ? 0 : groups(groupId));
}

/** What sounds besides a clip's own gain, for all clips of a project: trim, groups and track, dB. */
export function baseDbOf(project: Project): (clip: Clip) => number {
  const besides = besidesDbOf(project);
  return (clip) => clip.trimDb + besides(clip);
}

/** The gain with which a clip sounds, for all clips of a project: own gain, trim, groups and track, dB. */
export function totalDbOf(project: Project): (clip: Clip) => number {
  const tracks = new Map<Id, number>(project.tracks.map(({ id, gainDb }) => [id, gainDb]));
  const groups = groupDbOf(project);
  return (clip) =>
    ownDb(clip, clip.groupId === null ? 0 : groups(clip.groupId)) + (tracks.get(clip.trackId) ?? 0);
}

/** How far a level can go, dB from where it is. */
export interface GainRoom {
  readonly minDb: number;
  readonly maxDb: number;
}

/** How far the level of these clips can go by the same amount: the gain of the group that they are, else their own. */
export function levelRoom(project: Project, clipIds: ReadonlySet<Id>): GainRoom {
  const group = wholeGroup(project, clipIds);
  if (!group)
    return roomOf(
      project.clips.flatMap(({ id, gain }) => (clipIds.has(id) ? [gain.db] : [])),
      CLIP_GAIN,
    );
  return roomOf([group.gain.db], GROUP_GAIN);
}

/** How far gains can go by the same amount: until the first of them can go no further. */
export function roomOf(gains: readonly number[], { min, max }: GainRange): GainRoom {
  return {
    minDb: min - gains.reduce((a, b) => Math.min(a, b), max),
    maxDb: max - gains.reduce((a, b) => Math.max(a, b), min),
  };
}

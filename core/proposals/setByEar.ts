import { besidesDbOf } from '@/core/programme/clipGain';
import { groupDbOf } from '@/core/programme/groups';
import type { Clip, Group, Id, Project, Track } from '@/core/programme/model';
import { signed } from '@/core/text/figures';
import type { MeasuredClip } from './proposal';

/** A gain that was set by hand or by ear: levelling keeps it unless it is released. */
export interface SetByEar {
  readonly id: Id;
  readonly kind: 'clip' | 'track' | 'group';
  readonly name: string;
  /** dB */
  readonly db: number;
}

/** Less than this was not set by anybody, dB. */
const NOTHING_DB = 0.005;

const trackEar = ({ gainDb, shiftDb }: Track): number => {
  const db = gainDb - shiftDb;
  return Math.abs(db) < NOTHING_DB ? 0 : db;
};

const setByHand = ({ gain }: Clip | Group): boolean => gain.reason.kind === 'byHand';

/** Everything set by hand or by ear that levelling these clips would meet: tracks, groups, then the clips themselves. */
export function setByEar(project: Project, clips: readonly Clip[]): SetByEar[] {
  const laid = new Set(clips.map(({ trackId }) => trackId));
  const grouped = new Set(clips.map(({ groupId }) => groupId));
  // A group around a group moves what is in it.
  for (let grew = true; grew;) {
    grew = false;
    for (const { id, parentId } of project.groups)
      if (grouped.has(id) && parentId !== null && !grouped.has(parentId)) {
        grouped.add(parentId);
        grew = true;
      }
  }
  return [
    ...project.tracks
      .filter((track) => laid.has(track.id) && trackEar(track) !== 0)
      .map((track) => ({ id: track.id, kind: 'track' as const, name: track.name, db: trackEar(track) })),
    ...project.groups
      .filter((group) => grouped.has(group.id) && setByHand(group) && group.gain.db !== 0)
      .map(({ id, name, gain }) => ({ id, kind: 'group' as const, name, db: gain.db })),
    ...clips
      .filter(setByHand)
      .map(({ id, name, gain }) => ({ id, kind: 'clip' as const, name, db: gain.db })),
  ];
}

/**
 * Clips as levelling has to take them: what was set by hand stays, what was set by ear on their tracks and groups stays on top
 * of the goal.
 * @param release ids of clips, tracks and groups whose gain is levelled all the same
 */
export function keepingEar(
  project: Project,
  entries: readonly MeasuredClip[],
  release: ReadonlySet<Id>,
): MeasuredClip[] {
  const tracks = new Map<Id, number>(
    project.tracks.map((track) => [track.id, release.has(track.id) ? 0 : trackEar(track)]),
  );
  // Groups with only those gains that stay.
  const kept = project.groups.map((group) =>
    setByHand(group) && !release.has(group.id) ? group : { ...group, gain: { ...group.gain, db: 0 } },
  );
  const groups = groupDbOf({ ...project, groups: kept });
  const besides = besidesDbOf(project);
  return entries.map((entry) => {
    const { clip } = entry;
    const onTopDb = (tracks.get(clip.trackId) ?? 0) + (clip.groupId === null ? 0 : groups(clip.groupId));
    const staysByHand = setByHand(clip) && !release.has(clip.id);
    return { ...entry, staysByHand, onTopDb, besidesDb: besides(clip) };
  });
}

/** “the +3.0 dB of track Music”. */
export const earWords = ({ kind, name, db }: SetByEar): string => `the ${signed(db)} dB of ${kind} ${name}`;

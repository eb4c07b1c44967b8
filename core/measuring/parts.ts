import { spokenClips } from '@/core/programme/dialogue';
import type { Clip, Id, Project, Role, Track } from '@/core/programme/model';
import type { Tap } from '@/core/signal/mix';

/** Something of a programme that can be taken out of it. */
export interface Part {
  readonly key: string;
  readonly hears: Tap;
}

export const clipPart = (id: Id): string => `clip ${id}`;
export const trackPart = (id: Id): string => `track ${id}`;
const rolePart = (role: Role): string => `role ${role}`;
/** All that is neither dialogue nor narration. */
export const REST_PART = 'rest';

/** Roles with several tracks: one with one track is that track. */
const sharedRoles = (tracks: readonly Track[]): readonly Role[] =>
  [...new Set(tracks.map(({ role }) => role))].filter(
    (role) => tracks.filter((track) => track.role === role).length > 1,
  );

/** By which part a role is told. */
export const partOfRole = (tracks: readonly Track[], role: Role): string =>
  sharedRoles(tracks).includes(role)
    ? rolePart(role)
    : trackPart(tracks.find((track) => track.role === role)?.id ?? '');

/** All parts of a programme: its roles with several tracks, its tracks, its clips, and all that does not speak. */
export function partsOf({ tracks, clips }: Pick<Project, 'tracks' | 'clips'>): readonly Part[] {
  const spoken = new Set(spokenClips({ tracks, clips }).map(({ id }) => id));
  const roles = sharedRoles(tracks);
  const on = (ids: ReadonlySet<Id>): Tap => {
    return ({ trackId }: Clip) => ids.has(trackId);
  };
  return [
    { key: REST_PART, hears: ({ id }) => !spoken.has(id) },
    ...roles.map((role) => ({
      key: rolePart(role),
      hears: on(new Set(tracks.filter((track) => track.role === role).map(({ id }) => id))),
    })),
    ...tracks.map(({ id }) => ({ key: trackPart(id), hears: on(new Set([id])) })),
    ...clips.map(({ id }) => ({ key: clipPart(id), hears: (clip: Clip) => clip.id === id })),
  ];
}

/** Whether the same clips belong to each part that both states have. */
export function samePartition(a: Project, b: Project): boolean {
  const rolesOf = ({ tracks }: Project): Map<Id, string> =>
    new Map(tracks.map(({ id, role, muted }) => [id, `${role} ${muted}`]));
  const [before, after] = [rolesOf(a), rolesOf(b)];
  const trackOf = new Map(a.clips.map(({ id, trackId }) => [id, trackId]));
  return (
    [...after].every(([id, role]) => (before.get(id) ?? role) === role) &&
    b.clips.every(({ id, trackId }) => (trackOf.get(id) ?? trackId) === trackId)
  );
}

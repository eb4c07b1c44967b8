import type { Contribution, Contributions } from '@/core/measuring/contributions';
import { clipPart, partOfRole, REST_PART, trackPart } from '@/core/measuring/parts';
import { spokenClips } from '@/core/programme/dialogue';
import { ROLES, type Clip, type Id, type Project } from '@/core/programme/model';
import { ROLE_NAMES } from '../../ui/words';

/** By what a programme is taken apart. */
export const PART_KINDS = ['role', 'track', 'clip'] as const;
export type PartKind = (typeof PART_KINDS)[number];

/** A part with what it brings. */
export interface ShareRow extends Contribution {
  readonly key: string;
  readonly name: string;
  /** What it belongs to; empty for a role. */
  readonly within: string;
  readonly clipIds: readonly Id[];
  /** Where its first clip begins, programme frames. */
  readonly start: number;
  /** What the whole changes by when it is taken out, LU. */
  readonly changeLu: number | null;
  /** It holds several of the others. */
  readonly over: boolean;
}

type Part = Pick<ShareRow, 'key' | 'name' | 'within'> & {
  readonly clips: readonly Clip[];
  readonly over?: true;
};

function partsBy(project: Project, kind: PartKind): Part[] {
  const { tracks, clips } = project;
  const on = (ids: ReadonlySet<Id>): Clip[] => clips.filter(({ trackId }) => ids.has(trackId));
  if (kind === 'role') {
    const spoken = new Set(spokenClips(project).map(({ id }) => id));
    const roles = ROLES.filter((role) => tracks.some((track) => track.role === role));
    const rest = roles.filter((role) => role !== 'dialogue' && role !== 'narration');
    return [
      ...roles.map((role) => ({
        ...{ key: partOfRole(tracks, role), name: ROLE_NAMES[role], within: '' },
        clips: on(new Set(tracks.filter((track) => track.role === role).map(({ id }) => id))),
      })),
      ...(spoken.size > 0 && rest.length > 1
        ? [
            {
              ...{ key: REST_PART, name: 'All that does not speak', over: true as const },
              within: rest.map((role) => ROLE_NAMES[role].toLowerCase()).join(', '),
              clips: clips.filter(({ id }) => !spoken.has(id)),
            },
          ]
        : []),
    ];
  }
  if (kind === 'track')
    return tracks.map(({ id, name, role }) => ({
      ...{ key: trackPart(id), name, within: ROLE_NAMES[role] },
      clips: on(new Set([id])),
    }));
  const names = new Map(tracks.map(({ id, name }) => [id, name]));
  return clips.map((clip) => ({
    ...{ key: clipPart(clip.id), name: clip.name, within: names.get(clip.trackId) ?? '', clips: [clip] },
  }));
}

/** The parts that sound, those with the largest share first. */
export function shareRows(
  project: Project,
  { integratedLufs, parts }: Contributions,
  kind: PartKind,
): readonly ShareRow[] {
  return partsBy(project, kind)
    .flatMap(({ clips, over = false, ...part }): ShareRow[] => {
      const found = parts.get(part.key);
      if (!found || clips.length === 0) return [];
      const { withoutLufs } = found;
      return [
        {
          ...{ ...part, ...found, over, clipIds: clips.map(({ id }) => id) },
          start: clips.reduce((least, { start }) => Math.min(least, start), Infinity),
          changeLu: withoutLufs === null || integratedLufs === null ? null : withoutLufs - integratedLufs,
        },
      ];
    })
    .sort((a, b) => b.share - a.share);
}

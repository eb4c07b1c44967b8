import { outermostOf } from '@/core/programme/groups';
import type { Clip, Id, Project, Source } from '@/core/programme/model';

/** By what clips belong together when they are levelled together. */
export const SET_KINDS = ['all', 'source', 'folder', 'track', 'role', 'group', 'name', 'hand'] as const;
export type SetKind = (typeof SET_KINDS)[number];

/** As many names can be told apart as anyone would type. */
const MOST_NAMES = 50;

/**
 * The names of sets as someone typed them, parted by commas.
 * @returns at least one, each not empty, or what is accepted
 */
export function readNames(text: string): readonly string[] | { readonly error: string } {
  const names = text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);
  if (names.length === 0)
    return {
      error: 'Type what the names of a set have in common, sets separated by commas: indoors, outdoors',
    };
  if (names.length > MOST_NAMES) return { error: `At most ${MOST_NAMES} names, separated by commas` };
  return names;
}

/** Whether a name holds what was typed; `*` stands for anything, capitals do not matter. */
export function nameHolds(name: string, typed: string): boolean {
  const parts = typed.toLowerCase().split('*').filter(Boolean);
  const text = name.toLowerCase();
  let at = 0;
  return parts.every((part) => {
    const found = text.indexOf(part, at);
    at = found + part.length;
    return found >= 0;
  });
}

/** The set of something that stands by itself. */
const alone = (id: string): string => `alone ${id}`;

/**
 * The set of something by its names: that of the first typed name that one of them holds, else it stands by itself.
 * @param id tells it from all others
 */
export function setByName(names: readonly string[], typed: readonly string[], id: string): string {
  const index = typed.findIndex((pattern) => names.some((name) => nameHolds(name, pattern)));
  return index < 0 ? alone(id) : `name ${index}`;
}

/**
 * Which set a clip belongs to, by what its project says of it. A clip that is in no set stands by itself; of those that no
 * name holds for, the same.
 * @param typed what the names of clips or their sources hold, for sets by name
 */
export function setsOf(
  project: Project,
  kind: SetKind,
  typed: readonly string[] = [],
): (clip: Clip) => string {
  const roles = new Map(project.tracks.map(({ id, role }) => [id, role]));
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const outermost = outermostOf(project);
  const sets: Readonly<Record<SetKind, (clip: Clip) => string>> = {
    all: () => '',
    source: ({ sourceId }) => sourceId,
    folder: (clip) => sources.get(clip.sourceId)?.folder ?? '',
    track: ({ trackId }) => trackId,
    role: ({ trackId }) => roles.get(trackId) ?? '',
    group: (clip) => outermost(clip)?.id ?? alone(clip.id),
    name: (clip) => setByName([clip.name, sources.get(clip.sourceId)?.name ?? ''], typed, clip.id),
    hand: (clip) => clip.setName ?? alone(clip.id),
  };
  return sets[kind];
}

/**
 * The same for sources that are levelled before they are used.
 * @param typed what their names hold, for sets by name
 */
export function sourceSetsOf(
  sources: readonly Pick<Source, 'id' | 'name' | 'folder'>[],
  kind: 'all' | 'folder' | 'name',
  typed: readonly string[] = [],
): (of: { readonly id: Id }) => string {
  const byId = new Map(sources.map((source) => [source.id, source]));
  return ({ id }) => {
    const { name, folder } = byId.get(id)!;
    return kind === 'all' ? '' : kind === 'folder' ? folder : setByName([name], typed, id);
  };
}

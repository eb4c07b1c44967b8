import type { Id, Project } from '../model';

/** Letters that the name of a set can have. */
export const MOST_SET_LETTERS = 40;

/** Puts clips in a set, or out of the one they are in. @param name trimmed; empty or `null` for none */
export function putInSet(project: Project, clipIds: ReadonlySet<Id>, name: string | null): Project {
  const setName = name?.trim().slice(0, MOST_SET_LETTERS) || null;
  return {
    ...project,
    clips: project.clips.map((clip) =>
      clipIds.has(clip.id) && clip.setName !== setName ? { ...clip, setName } : clip,
    ),
  };
}

/** The sets of a programme, in order of their names. */
export function setNames({ clips }: Project): string[] {
  const names = new Set(clips.flatMap(({ setName }) => setName ?? []));
  return [...names].sort((a, b) => a.localeCompare(b, 'en'));
}

/** Files that wait for a project. */
interface Along {
  readonly files: readonly File[];
  /** They are placed on its first track, one after the other. */
  readonly placed: boolean;
}

/** Files that were dropped where there was no project yet, by the project they go into. */
const waiting = new Map<string, Along>();

export const bringAlong = (projectId: string, files: readonly File[], placed = false): void =>
  void waiting.set(projectId, { files, placed });

/** Takes the files that wait for a project, once. */
export function takeAlong(projectId: string): Along {
  const along = waiting.get(projectId) ?? { files: [], placed: false };
  waiting.delete(projectId);
  return along;
}

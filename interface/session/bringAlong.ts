/** Files that wait for a project. */
interface Along {
  readonly files: readonly File[];
  /** They are placed on its first track, one after the other. */
  readonly placed: boolean;
  /** What it is then compared with. */
  readonly against: File | null;
}

const NOTHING: Along = { files: [], placed: false, against: null };

/** Files that were dropped where there was no project yet, by the project they go into. */
const waiting = new Map<string, Along>();

export const bringAlong = (projectId: string, along: Partial<Along>): void =>
  void waiting.set(projectId, { ...NOTHING, ...along });

/** Takes the files that wait for a project, once. */
export function takeAlong(projectId: string): Along {
  const along = waiting.get(projectId) ?? NOTHING;
  waiting.delete(projectId);
  return along;
}

/** Files that were dropped where there was no project yet, by the project they go into. */
const waiting = new Map<string, readonly File[]>();

export const bringAlong = (projectId: string, files: readonly File[]): void =>
  void waiting.set(projectId, files);

/** Takes the files that wait for a project, once. */
export function takeAlong(projectId: string): readonly File[] {
  const files = waiting.get(projectId) ?? [];
  waiting.delete(projectId);
  return files;
}

import { startHistory, type History, type Step } from '@/core/programme/history';
import { migrateProject, migrateSteps } from '@/core/programme/migrations';
import { programmeFrames, type Project } from '@/core/programme/model';
import { removeAudioExcept } from './audio';
import { storageError } from './failure';
import { removeMeasurementsExcept } from './measurements';
import { projectStore, shelfStore } from './stores';

/** What the shelf shows of a project. */
export interface ShelfEntry {
  readonly id: string;
  readonly name: string;
  readonly modifiedAt: number;
  readonly clips: number;
  readonly sources: number;
  readonly lengthSeconds: number;
  readonly targetName: string;
  /** When it was put in the bin; `null` while it is on the shelf. */
  readonly deletedAt: number | null;
}

interface StoredProject {
  readonly project: unknown;
  readonly past: readonly Step[];
  readonly future: readonly Step[];
}

function entryOf(project: Project, deletedAt: number | null): ShelfEntry {
  return {
    id: project.id,
    name: project.name,
    modifiedAt: Date.now(),
    clips: project.clips.length,
    sources: project.sources.length,
    lengthSeconds: programmeFrames(project) / project.sampleRate,
    targetName: project.target.name,
    deletedAt,
  };
}

/** All projects, those worked on last first, those in the bin included. */
export async function listProjects(): Promise<ShelfEntry[]> {
  try {
    const entries: ShelfEntry[] = [];
    await shelfStore.iterate<ShelfEntry, void>((entry) => {
      entries.push(entry);
    });
    return entries.sort((a, b) => b.modifiedAt - a.modifiedAt);
  } catch (error) {
    throw storageError(error);
  }
}

/** Keeps a project with its history. */
export async function saveProject({ project, past, future }: History): Promise<void> {
  try {
    await projectStore.setItem<StoredProject>(project.id, { project, past, future });
    await shelfStore.setItem(project.id, entryOf(project, null));
  } catch (error) {
    throw storageError(error);
  }
}

/**
 * Reads a project.
 * @returns `null` when there is none of that id
 * @throws ProjectFormatError when it is damaged or from a newer version
 */
export async function loadProject(id: string): Promise<History | null> {
  const stored = await projectStore.getItem<StoredProject>(id).catch((error: unknown) => {
    throw storageError(error);
  });
  if (!stored) return null;
  const project = migrateProject(stored.project);
  const { schema } = stored.project as { readonly schema: number };
  const steps = (kept: readonly Step[]): readonly Step[] => migrateSteps(kept, schema);
  return { ...startHistory(project), past: steps(stored.past), future: steps(stored.future) };
}

/** Makes a copy under another id and name; the sound is shared. */
export async function duplicateProject(id: string, newId: string, name: string): Promise<void> {
  const history = await loadProject(id);
  if (history) await saveProject(startHistory({ ...history.project, id: newId, name }));
}

async function changeEntry(id: string, change: Partial<ShelfEntry>): Promise<void> {
  const entry = await shelfStore.getItem<ShelfEntry>(id);
  if (entry) await shelfStore.setItem(id, { ...entry, ...change });
}

/** Puts a project in the bin; nothing of it is lost yet. */
export const binProject = (id: string): Promise<void> => changeEntry(id, { deletedAt: Date.now() });

/** Takes a project out of the bin. */
export const restoreProject = (id: string): Promise<void> => changeEntry(id, { deletedAt: null });

/** Deletes a project for good, and the sound that no other project uses. */
export async function deleteProject(id: string): Promise<void> {
  await projectStore.removeItem(id);
  await shelfStore.removeItem(id);
  await collectGarbage();
}

const AUDIO_KEY = /"audioKey":"([^"]+)"/g;

/** Forgets sound and measurements that no project names, neither in its present state nor in a step of its history. */
async function collectGarbage(): Promise<void> {
  const wanted = new Set<string>();
  await projectStore.iterate<StoredProject, void>((stored) => {
    for (const [, key] of JSON.stringify(stored).matchAll(AUDIO_KEY)) wanted.add(key!);
  });
  await removeAudioExcept(wanted);
  await removeMeasurementsExcept(wanted);
}

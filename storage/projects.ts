import { number, object, string } from 'yup';
import { startHistory, type History } from '@/core/programme/history';
import { ProjectFormatError, readProject } from '@/core/programme/migrations';
import { programmeFrames, type Project } from '@/core/programme/model';
import { removeAudioExcept } from './audio';
import { storageError } from './failure';
import { removeHandover } from './handovers';
import { removeMeasurementsExcept } from './measurements';
import { fromStored, soundsIn, toStored, type StoredProject } from './storedProject';
import { asideStore, projectStore, shelfStore } from './stores';
import { removeSummary } from './summaries';

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

/** A record of the shelf that cannot be read, nor the project it stands for. */
export interface UnreadableEntry {
  readonly id: string;
  /** Its name where that can be read, else its id. */
  readonly name: string;
  /** What is the matter, as a full sentence. */
  readonly why: string;
}

const amount = () => number().required().min(0).max(Number.MAX_SAFE_INTEGER);
/** Milliseconds that a date can be made of. */
const date = () => amount().max(8.64e15);

const entrySchema = object({
  id: string().required(),
  name: string().defined(),
  modifiedAt: date(),
  clips: amount(),
  sources: amount(),
  lengthSeconds: amount(),
  targetName: string().defined(),
  deletedAt: date().nullable().defined().optional(),
}).required();

const isEntry = (value: unknown): value is ShelfEntry => entrySchema.isValidSync(value, { strict: true });

type Values = Readonly<Record<string, unknown>>;

/** What is stored of a project; `null` when nothing is. */
async function storedValues(
  id: string,
): Promise<{ readonly stored: unknown; readonly values: Values } | null> {
  const stored = await projectStore.getItem<unknown>(id);
  return stored === null || stored === undefined ? null : { stored, values: fromStored(stored) as Values };
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

/** The name in a record that may be anything; `null` when there is none. */
function nameIn(record: unknown): string | null {
  const { name } = (record ?? {}) as Readonly<Record<string, unknown>>;
  return typeof name === 'string' && name !== '' ? name : null;
}

/** An entry made anew from its project, where the shelf's own record of it is damaged. */
async function mended(id: string): Promise<ShelfEntry | UnreadableEntry> {
  const found = await storedValues(id);
  const name = nameIn(found?.values['project']) ?? nameIn(await shelfStore.getItem(id)) ?? id;
  if (!found) return { id, name, why: 'Nothing but a damaged note of it is left.' };
  try {
    return { ...entryOf(readProject(found.values).project, null), modifiedAt: 0, id };
  } catch (error) {
    if (error instanceof ProjectFormatError) return { id, name, why: error.message };
    throw error;
  }
}

/** All projects, those worked on last first, those in the bin included; and what of the shelf cannot be read. */
export async function listProjects(): Promise<{
  readonly entries: readonly ShelfEntry[];
  readonly unreadable: readonly UnreadableEntry[];
}> {
  try {
    const entries: ShelfEntry[] = [];
    const unreadable: UnreadableEntry[] = [];
    const damaged = new Set<string>();
    await shelfStore.iterate<unknown, void>((entry, key) => {
      if (isEntry(entry) && entry.id === key) entries.push(entry);
      else damaged.add(key);
    });
    // A project without an entry is there all the same.
    const known = new Set([...entries.map(({ id }) => id), ...damaged]);
    for (const id of await projectStore.keys()) if (!known.has(id)) damaged.add(id);
    for (const id of damaged) {
      const found = await mended(id);
      if ('why' in found) unreadable.push(found);
      else entries.push(found);
    }
    return { entries: entries.sort((a, b) => b.modifiedAt - a.modifiedAt), unreadable };
  } catch (error) {
    throw storageError(error);
  }
}

/** All that is kept of a project, readable or not, as the text of a file. */
export async function projectAsKept(id: string): Promise<string> {
  try {
    const [project, entry] = await Promise.all([storedValues(id), shelfStore.getItem(id)]);
    return projectFile(project?.values ?? { entry });
  } catch (error) {
    throw storageError(error);
  }
}

/** A project with its history as the text of a file; its sound is not in it. */
export const projectFile = (kept: unknown): string => JSON.stringify(kept);

/** Keeps a project with its history. Where it is in the bin, there it stays. */
export async function saveProject(history: History): Promise<void> {
  const { project } = history;
  try {
    await projectStore.setItem<StoredProject>(project.id, toStored(history));
    const before: unknown = await shelfStore.getItem(project.id);
    await shelfStore.setItem(project.id, entryOf(project, isEntry(before) ? before.deletedAt : null));
  } catch (error) {
    throw storageError(error);
  }
}

/** A project that was read, and what of it was left out. */
export interface LoadedProject {
  readonly history: History;
  /** A full sentence; `null` when nothing was. */
  readonly lost: string | null;
}

/**
 * Reads a project.
 * @returns `null` when there is none of that id
 * @throws ProjectFormatError when it is damaged or from a newer version
 */
export async function loadProject(id: string): Promise<LoadedProject | null> {
  const found = await storedValues(id).catch((error: unknown) => {
    throw storageError(error);
  });
  if (!found) return null;
  const { stored, values } = found;
  const { project, past, future, lost } = readProject(values);
  // What cannot be read is kept beside it before the next step writes over it.
  if (lost !== null) await asideStore.setItem(`${id} ${new Date().toISOString()}`, stored);
  return { history: { ...startHistory(project), past, future }, lost };
}

/**
 * Reads a project file and keeps it as a project of its own.
 * @throws ProjectFormatError when it is none
 */
export async function addProjectFile(
  text: string,
  id: string,
  freeName: (wanted: string) => string,
): Promise<void> {
  let stored: unknown;
  try {
    stored = JSON.parse(text);
  } catch {
    throw new ProjectFormatError('This is no project file.');
  }
  const { project, past, future } = readProject(stored);
  await saveProject({ ...startHistory({ ...project, id, name: freeName(project.name) }), past, future });
}

/** Makes a copy under another id and name; the sound is shared. */
export async function duplicateProject(id: string, newId: string, name: string): Promise<void> {
  const loaded = await loadProject(id);
  if (loaded) await saveProject(startHistory({ ...loaded.history.project, id: newId, name }));
}

async function changeEntry(id: string, change: Partial<ShelfEntry>): Promise<void> {
  const stored: unknown = await shelfStore.getItem(id);
  const entry = isEntry(stored) ? stored : await mended(id);
  if (!('why' in entry)) await shelfStore.setItem(id, { ...entry, ...change });
}

/** Puts a project in the bin; nothing of it is lost yet. */
export const binProject = (id: string): Promise<void> => changeEntry(id, { deletedAt: Date.now() });

/** Takes a project out of the bin. */
export const restoreProject = (id: string): Promise<void> => changeEntry(id, { deletedAt: null });

/** Deletes a project for good, and the sound that no other project uses. */
export async function deleteProject(id: string): Promise<void> {
  await projectStore.removeItem(id);
  await shelfStore.removeItem(id);
  await removeSummary(id);
  await removeHandover(id);
  await removeOrphans();
}

/**
 * Forgets sound and measurements that no project names, neither in its present state nor in a step of its history: of projects that
 * were deleted, and of imports that were cut short. What has just come in stays: it may be on its way into a project.
 */
export async function removeOrphans(): Promise<void> {
  const wanted = new Set<string>();
  await projectStore.iterate<unknown, void>((stored) => {
    for (const key of soundsIn(stored)) wanted.add(key);
  });
  await asideStore.iterate<unknown, void>((stored) => {
    for (const key of soundsIn(stored)) wanted.add(key);
  });
  await removeAudioExcept(wanted);
  await removeMeasurementsExcept(wanted);
}

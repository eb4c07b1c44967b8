import { createStore } from 'zustand/vanilla';
import { PACK_ENDING } from '@/core/programme/pack';
import { timeText } from '@/core/text/dates';
import { safeName } from '@/core/text/safeName';
import { toFailure } from '@/engine/failure';
import { PackEngine } from '@/engine/packEngine';
import type { Failure } from '@/engine/protocol';
import { getBackupPlan, putBackupPlan, type BackupPlan } from '@/storage/backups';
import { loadHandover } from '@/storage/handovers';
import { listProjects, loadProject, type ShelfEntry } from '@/storage/projects';
import { askForFolder, zipInto } from '../ui/saveMany';
import { packParts } from './packParts';

/** So many backups of a project stay; the oldest give way. */
export const KEPT_BACKUPS = 10;
const HOUR = 3_600_000;
/** How often it is looked whether one is due, ms. */
const LOOK_MS = 60_000;

interface BackupState {
  readonly plan: BackupPlan | null;
  /** The name of the project that is being backed up; `null` while none is. */
  readonly now: string | null;
  /** The browser asks again whether the folder may be written to; that needs a press. */
  readonly waits: boolean;
  readonly failure: Failure | null;
}

export const backups = createStore<BackupState>(() => ({
  ...{ plan: null, now: null, waits: false, failure: null },
}));

/** What of the permission to write is used here; not every browser has it. */
interface Permitted {
  queryPermission?: (options: { mode: 'readwrite' }) => Promise<PermissionState>;
  requestPermission?: (options: { mode: 'readwrite' }) => Promise<PermissionState>;
}

async function mayWrite(folder: FileSystemDirectoryHandle, ask: boolean): Promise<boolean> {
  const { queryPermission, requestPermission } = folder as Permitted;
  if (!queryPermission) return true;
  if ((await queryPermission.call(folder, { mode: 'readwrite' })) === 'granted') return true;
  return ask && (await requestPermission?.call(folder, { mode: 'readwrite' })) === 'granted';
}

async function setPlan(plan: BackupPlan | null): Promise<void> {
  await putBackupPlan(plan);
  backups.setState({ plan, waits: false });
}

/** Does something to the backups; what goes wrong is shown. */
async function told(work: () => Promise<void>): Promise<void> {
  try {
    backups.setState({ failure: null });
    await work();
  } catch (error) {
    backups.setState({ failure: toFailure(error) });
  }
}

/** Asks for a folder, and begins. */
export const beginBackups = (): Promise<void> =>
  told(async () => {
    const folder = await askForFolder();
    if (!folder) return;
    const { plan } = backups.getState();
    await setPlan({ everyHours: 4, withSound: false, ...plan, folder, lastAt: 0, done: {} });
    await backUp(true);
  });

export const changeBackups = (change: Partial<Pick<BackupPlan, 'everyHours' | 'withSound'>>): Promise<void> =>
  told(async () => {
    const { plan } = backups.getState();
    // With its sound or without, each is another file than the last.
    if (plan) await setPlan({ ...plan, ...change, ...('withSound' in change && { done: {} }) });
  });

export const stopBackups = (): Promise<void> => told(() => setPlan(null));

/** The name of a backup: “Frostline 2026-01-31 21.04.dengung”. */
const nameOf = (project: string, date: Date): string =>
  `${safeName(project)} ${timeText(date).slice(0, 16).replace(':', '.')}${PACK_ENDING}`;

/** Takes the oldest backups of a project away: files that are named as a backup of it is, and no others. */
async function removeOld(folder: FileSystemDirectoryHandle, project: string): Promise<void> {
  const begin = `${safeName(project)} `;
  const names: string[] = [];
  for await (const [name] of folder as unknown as AsyncIterable<[string, FileSystemHandle]>)
    if (name.startsWith(begin) && /^\d{4}-\d\d-\d\d \d\d\.\d\d\.dengung$/.test(name.slice(begin.length)))
      names.push(name);
  for (const name of names.sort().slice(0, -KEPT_BACKUPS)) await folder.removeEntry(name);
}

async function one(
  { id, name }: ShelfEntry,
  { folder, withSound }: BackupPlan,
  engine: PackEngine,
): Promise<void> {
  const loaded = await loadProject(id);
  if (!loaded) return;
  const never = new AbortController().signal;
  const records = await loadHandover(id);
  const { parts } = await packParts(loaded.history, records, withSound, engine, never, () => undefined);
  await zipInto(folder, nameOf(name, new Date()), parts);
  await removeOld(folder, name);
}

/** Backs up what has changed since the last time. @param ask the browser may ask whether the folder may be written to */
export function backUp(ask: boolean): Promise<void> {
  return told(() =>
    // One tab at a time: the others find nothing to do.
    navigator.locks.request('dengung backups', { ifAvailable: true }, async (lock) => {
      const plan = await getBackupPlan();
      if (!lock || !plan || backups.getState().now !== null) return;
      if (!(await mayWrite(plan.folder, ask))) return backups.setState({ plan, waits: true });
      const { entries } = await listProjects();
      const changed = entries.filter(
        ({ id, modifiedAt, deletedAt }) => deletedAt === null && modifiedAt > (plan.done[id] ?? -1),
      );
      const engine = new PackEngine();
      let done = plan.done;
      try {
        for (const entry of changed) {
          backups.setState({ now: entry.name });
          await one(entry, plan, engine);
          done = { ...done, [entry.id]: entry.modifiedAt };
        }
      } finally {
        engine.close();
        backups.setState({ now: null });
        await setPlan({ ...plan, done, lastAt: Date.now() });
      }
    }),
  );
}

/** Looks now and then whether a backup is due. @returns ends that */
export function watchBackups(): () => void {
  const look = async (): Promise<void> => {
    const plan = await getBackupPlan();
    backups.setState({ plan });
    if (plan && Date.now() - plan.lastAt >= plan.everyHours * HOUR) await backUp(false);
  };
  void look();
  const timer = setInterval(() => void look(), LOOK_MS);
  return () => clearInterval(timer);
}

import { boolean, mixed, number, object } from 'yup';
import { storageError } from './failure';
import { settingsStore } from './stores';

/** Where projects are backed up to, and how often. */
export interface BackupPlan {
  readonly folder: FileSystemDirectoryHandle;
  /** While the product is open. */
  readonly everyHours: number;
  readonly withSound: boolean;
  /** When it was done last, ms; 0: never. */
  readonly lastAt: number;
  /** By project, when what is backed up was changed last, ms. */
  readonly done: Readonly<Record<string, number>>;
}

/** How often, hours. */
export const BACKUP_HOURS = [1, 4, 24] as const;

const KEY = 'backups';

const shape = object({
  folder: mixed().test(
    'folder',
    '${path} is no folder',
    (value) => (value as { kind?: unknown } | null)?.kind === 'directory',
  ),
  everyHours: number()
    .required()
    .oneOf([...BACKUP_HOURS]),
  withSound: boolean().required(),
  lastAt: number().required().min(0),
  done: mixed()
    .required()
    .test('numbers', '${path} are no times', (value) =>
      Object.values(value as object).every((at) => typeof at === 'number'),
    ),
});

/** The plan; `null` where there is none that can be read. */
export async function getBackupPlan(): Promise<BackupPlan | null> {
  const stored: unknown = await settingsStore.getItem(KEY).catch(() => null);
  return shape.isValidSync(stored, { strict: true }) ? (stored as unknown as BackupPlan) : null;
}

/** @param plan `null`: no more backups are made */
export async function putBackupPlan(plan: BackupPlan | null): Promise<void> {
  try {
    if (plan) await settingsStore.setItem(KEY, plan);
    else await settingsStore.removeItem(KEY);
  } catch (error) {
    throw storageError(error);
  }
}

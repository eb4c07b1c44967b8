import { readdirSync, rmSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { shared } from './shared';

const PREFIX = 'dengung-api-';

const isAlive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/** Folders in use. What a server left that was killed is taken away by the next; what is in use, at its end. */
const folders = shared('folders', () => {
  const used = new Set<string>();
  for (const name of readdirSync(tmpdir())) {
    const pid = name.startsWith(PREFIX) ? Number(name.slice(PREFIX.length).split('-')[0]) : NaN;
    if (Number.isInteger(pid) && !isAlive(pid))
      rmSync(join(tmpdir(), name), { recursive: true, force: true });
  }
  process.once('exit', () => {
    for (const folder of used) rmSync(folder, { recursive: true, force: true });
  });
  return used;
});

/** A folder that nobody else can look into. */
export async function newFolder(): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), `${PREFIX}${process.pid}-`));
  folders.add(folder);
  return folder;
}

export async function removeFolder(folder: string): Promise<void> {
  await rm(folder, { recursive: true, force: true });
  folders.delete(folder);
}

/** A folder for the time of one piece of work: gone after it, whatever happens. */
export async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await newFolder();
  try {
    return await work(folder);
  } finally {
    await removeFolder(folder);
  }
}

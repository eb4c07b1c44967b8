import { readdirSync, rmSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MARK_PATTERN, ownerMark, ownerState } from '@/cli/owner';
import { ApiError } from './apiError';
import { shared } from './shared';

const PREFIX = 'dengung-api-';

const FOLDER = new RegExp(`^${PREFIX}${MARK_PATTERN}-`);

/** Folders in use. What a server left that was killed is taken away by the next; what is in use, at its end. */
const folders = shared('folders', () => {
  const used = new Set<string>();
  for (const name of readdirSync(tmpdir())) {
    const mark = FOLDER.exec(name)?.[1];
    if (mark !== undefined && ownerState(mark) === 'gone')
      rmSync(join(tmpdir(), name), { recursive: true, force: true });
  }
  process.once('exit', () => {
    for (const folder of used) rmSync(folder, { recursive: true, force: true });
  });
  return used;
});

/** A folder that nobody else can look into. */
export async function newFolder(): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), `${PREFIX}${ownerMark()}-`));
  folders.add(folder);
  return folder;
}

export async function removeFolder(folder: string): Promise<void> {
  await rm(folder, { recursive: true, force: true });
  folders.delete(folder);
  held.delete(folder);
}

/** Bytes that came in, by the folder in which they lie. */
const held = shared('held bytes', () => new Map<string, number>());

/** All bytes that lie here at a time at most. */
const mostHeld = (): number => Number(process.env['DENGUNG_MOST_TOTAL_BYTES']) || 64e9;

const full = (): ApiError =>
  new ApiError(507, 'full', 'The server has no storage space left.', 'Try again later.');

/** Counts bytes that come into a folder. @throws ApiError when all folders together hold too many */
export function count(folder: string, bytes: number): void {
  let all = bytes;
  for (const of of held.values()) all += of;
  if (all > mostHeld()) throw full();
  held.set(folder, (held.get(folder) ?? 0) + bytes);
}

/** The error to report when the disk is full. @returns any other error unchanged */
export const noRoom = (error: unknown): unknown =>
  ['ENOSPC', 'EDQUOT', 'EFBIG'].includes((error as NodeJS.ErrnoException).code ?? '') ? full() : error;

/** A folder for the time of one piece of work: gone after it, whatever happens. */
export async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await newFolder();
  try {
    return await work(folder);
  } finally {
    await removeFolder(folder);
  }
}

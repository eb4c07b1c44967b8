import { createHash, randomBytes } from 'node:crypto';
import { constants, type Stats } from 'node:fs';
import {
  access,
  chmod,
  link,
  lstat,
  open,
  readdir,
  realpath,
  rename,
  stat,
  statfs,
  unlink,
} from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { probe, PROBE_BYTES } from '@/core/formats/probe';
import { forget, removeAtEnd } from './cleanUp';
import { absolute, FileError, sameFile } from './files';
import { nameOf, osPath } from './names';
import { MARK_PATTERN, ownerMark, ownerState } from './owner';
import { shown } from './say';

/** A file that is to be written, looked at before the work begins. */
export interface Output {
  /** As it was named. */
  readonly named: string;
  /** Where it really goes: links are followed. */
  readonly path: string;
  /** What stands there now and is replaced; `null` when nothing does. */
  readonly before: Stats | null;
}

export interface OutputRules {
  /** What is read, and must not be written over. */
  readonly inputs: readonly string[];
  /** Refuse what is there already. */
  readonly keepExisting: boolean;
  /** The option that named it, for the messages. */
  readonly option?: string;
  /** What its name may end in; see {@link SOUND_ENDINGS}. */
  readonly endings: readonly string[];
}

/** Endings of files that hold sound: only an output that is sound itself replaces one. */
export const SOUND_ENDINGS: readonly string[] = [
  ...['.wav', '.bwf', '.rf64', '.bw64', '.aif', '.aiff', '.flac', '.mp3', '.opus', '.ogg', '.m4a'],
  ...['.mov', '.mp4', '.m4v', '.mkv', '.webm'],
];
/** What is written as WAV. */
export const WAV_ENDINGS: readonly string[] = ['.wav', '.bwf', '.rf64', '.bw64'];

/** @throws FileError where a file that is there holds sound */
async function refuseSound(path: string, named: string, option: string): Promise<void> {
  const handle = await open(osPath(path), 'r');
  try {
    const head = new Uint8Array(PROBE_BYTES);
    const { bytesRead } = await handle.read(head, 0, PROBE_BYTES, 0);
    if (probe(head.subarray(0, bytesRead)) === null) return;
  } finally {
    await handle.close();
  }
  throw new FileError(
    'isSound',
    `${shown(named)} is a sound file; it would be lost.`,
    `Choose another name after ${option}.`,
  );
}

const statOrNull = (path: string): Promise<Stats | null> =>
  stat(osPath(path)).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });

async function noFolder(folder: string, named: string): Promise<FileError> {
  const found = await stat(osPath(folder)).catch(() => null);
  const what = shown(dirname(named));
  return found
    ? new FileError('notAFolder', `${what} is a file, not a folder.`, 'Name a folder that is there.')
    : new FileError('noFolder', `There is no folder ${what}.`, 'Make it first, or write somewhere else.');
}

/**
 * Looks at where a file is to go: only an ordinary file that is none of the inputs is ever replaced, and sound only by sound.
 * @throws FileError when nothing may be written there
 */
export async function checkOutput(
  named: string,
  { inputs, keepExisting, option = '--out', endings }: OutputRules,
): Promise<Output> {
  let path = absolute(named);
  const itself = await lstat(osPath(path)).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return null;
    throw error;
  });
  if (itself?.isSymbolicLink()) {
    path = await realpath(osPath(path), 'buffer')
      .then(nameOf)
      .catch((error: NodeJS.ErrnoException) => {
        if (error.code !== 'ENOENT') throw error;
        throw new FileError(
          'brokenLink',
          `${shown(named)} is a link to something that is not there.`,
          `Choose another name after ${option}.`,
        );
      });
  }
  const folder = await stat(osPath(dirname(path))).catch(() => null);
  if (!folder?.isDirectory()) throw await noFolder(dirname(path), named);
  await access(osPath(dirname(path)), constants.W_OK).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== 'EACCES') throw error;
    throw new FileError(
      'noAccess',
      `Nothing may be written to ${shown(dirname(named))}.`,
      'Check its permissions, or write somewhere else.',
    );
  });
  const before = await statOrNull(path);
  if (before?.isDirectory())
    throw new FileError(
      'isFolder',
      `${shown(named)} is a folder.`,
      `Name the file to write after ${option}.`,
    );
  if (before && !before.isFile())
    throw new FileError(
      'notAFile',
      `${shown(named)} is not an ordinary file; only those are replaced.`,
      `Choose another name after ${option}.`,
    );
  for (const input of inputs) {
    if (await sameFile(path, absolute(input)))
      throw new FileError(
        'sameFile',
        `${shown(named)} is ${shown(input)}, which is being read; it would be lost.`,
        `Choose another name after ${option}.`,
      );
  }
  if (!endings.some((ending) => named.toLowerCase().endsWith(ending)))
    throw new FileError(
      'otherEnding',
      `${shown(named)} does not end in ${endings.join(' or ')}.`,
      `Give ${option} a name with one of these endings.`,
    );
  if (before && !endings.some((ending) => SOUND_ENDINGS.includes(ending)))
    await refuseSound(path, named, option);
  if (before && keepExisting)
    throw new FileError(
      'exists',
      `${shown(named)} is there already, and --no-clobber keeps what is there.`,
      'Choose another name.',
    );
  return { named, path, before };
}

/** Says that a file was replaced, where one was. */
export const replacedNotes = ({ named, before }: Output): string[] =>
  before ? [`${shown(named)} was there before and has been replaced.`] : [];

/** @throws FileError when the disk has not so much room left */
export async function checkRoom(folder: string, bytes: number): Promise<void> {
  const found = await statfs(osPath(folder)).catch(() => null);
  if (!found) return;
  const free = found.bavail * found.bsize;
  if (free >= bytes) return;
  const gigabytes = (size: number): string => `${(size / 1e9).toFixed(2)} GB`;
  throw new FileError(
    'diskFull',
    `${gigabytes(bytes)} are to be written, and the disk has ${gigabytes(free)} left.`,
    'Make room, or write somewhere else.',
  );
}

/** Part files are named by the file they become, by whose they are, and by what cannot be guessed. */
const partPrefix = (path: string): string =>
  `.dengung-${createHash('sha256')
    .update(Buffer.from(osPath(path)))
    .digest('hex')
    .slice(0, 12)}-`;

const PART = new RegExp(String.raw`^\.dengung-[0-9a-f]{12}-${MARK_PATTERN}-[0-9a-f]{24}\.part$`);

/**
 * Removes the parts in a folder whose runs were killed.
 * @throws FileError while another run of this machine writes the same file
 */
async function sweepParts(path: string): Promise<void> {
  const folder = dirname(path);
  const prefix = partPrefix(path);
  for (const name of await readdir(osPath(folder), 'latin1')) {
    const mark = PART.exec(name)?.[1];
    if (mark === undefined) continue;
    const state = ownerState(mark);
    if (state === 'gone') await unlink(osPath(join(folder, name))).catch(() => undefined);
    if (state !== 'running' || !name.startsWith(prefix)) continue;
    throw new FileError(
      'beingWritten',
      `Another run is writing ${shown(basename(path))} (process ${mark.split('-')[0]}, its part is ${name}).`,
      'Wait for it to end, or choose another name.',
    );
  }
}

const unchanged = (a: Stats, b: Stats): boolean =>
  a.dev === b.dev && a.ino === b.ino && a.mtimeMs === b.mtimeMs && a.size === b.size;

const writtenMeanwhile = (named: string): FileError =>
  new FileError(
    'writtenMeanwhile',
    `Something else wrote ${shown(named)} in the meantime; it was left as it is.`,
    'Run again, or choose another name.',
  );

/** Some disks have no hard links. */
const NO_LINKS = new Set(['EPERM', 'ENOTSUP', 'EOPNOTSUPP', 'ENOSYS', 'EMLINK', 'EXDEV']);

/** Puts a finished part in its place, unless something else has taken it since it was looked at. */
async function putInPlace(part: string, { path, before, named }: Output): Promise<void> {
  if (before) {
    const now = await statOrNull(path);
    if (!now || !unchanged(now, before)) throw writtenMeanwhile(named);
    await chmod(osPath(part), before.mode & 0o777);
    await rename(osPath(part), osPath(path));
    return;
  }
  try {
    // Fails where there is a file by now, which a rename would replace.
    await link(osPath(part), osPath(path));
    await unlink(osPath(part));
  } catch (error) {
    const { code = '' } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') throw writtenMeanwhile(named);
    if (!NO_LINKS.has(code)) throw error;
    if (await statOrNull(path)) throw writtenMeanwhile(named);
    await rename(osPath(part), osPath(path));
  }
}

/** Where finished bytes go. @param at bytes from the start of the file; behind what was written where left out */
export type FileSink = (bytes: Uint8Array, at?: number) => Promise<void>;

/**
 * Writes a file under a name that cannot be guessed, in the folder it belongs to, and puts it in its place when it is
 * whole, on the disk and approved; whatever ends the program before that, nothing of it stays.
 * @param approve given the path of the whole file before it is put in its place; throws to have it removed
 */
export async function writeWhole<T>(
  output: Output,
  write: (sink: FileSink) => Promise<void>,
  approve: (part: string) => Promise<T>,
): Promise<T> {
  const { path } = output;
  await sweepParts(path);
  const random = randomBytes(12).toString('hex');
  const part = join(dirname(path), `${partPrefix(path)}${ownerMark()}-${random}.part`);
  removeAtEnd(part);
  const handle = await open(osPath(part), 'wx');
  try {
    let end = 0;
    await write(async (bytes, at = end) => {
      let done = 0;
      while (done < bytes.length)
        done += (await handle.write(bytes, done, bytes.length - done, at + done)).bytesWritten;
      end = Math.max(end, at + bytes.length);
    });
    await handle.sync();
    await handle.close();
    const approved = await approve(part);
    await putInPlace(part, output);
    await settle(dirname(path));
    return approved;
  } finally {
    await handle.close().catch(() => undefined);
    await unlink(osPath(part)).catch(() => undefined);
    forget(part);
  }
}

/** The new name, too, is on the disk. */
async function settle(folder: string): Promise<void> {
  const handle = await open(osPath(folder), 'r').catch(() => null);
  await handle?.sync().catch(() => undefined);
  await handle?.close();
}

/** Writes a small file of text the same way. */
export const writeText = (output: Output, text: string): Promise<void> =>
  writeWhole(
    output,
    (sink) => sink(Buffer.from(text, 'utf8')),
    () => Promise.resolve(),
  );

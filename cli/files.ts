import { constants } from 'node:fs';
import { open, stat, type FileHandle } from 'node:fs/promises';
import { resolve } from 'node:path';
import { textOf } from '@/codecs/textOf';
import type { ByteSource } from '@/core/audio/byteSource';
import { AudioFileError, changedMeanwhile } from '@/core/formats/errors';
import { CutError } from '@/core/timeline/cut';
import { osPath, typedPath } from './names';
import { shown } from './say';

/** A file that could not be read or written, told like any other trouble. */
export class FileError extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}

/** What went wrong, as data. */
export interface Trouble {
  readonly code: string;
  readonly message: string;
  readonly hint: string;
}

/** Paths are meant from where the user stands, not from where the product lies. */
export const absolute = (path: string): string =>
  typedPath(resolve(process.env['DENGUNG_CWD'] ?? process.cwd(), path));

const REASONS: Readonly<Record<string, readonly [code: string, message: string, hint: string]>> = {
  ENOENT: ['notFound', 'There is no such file.', 'Check the path.'],
  ENOTDIR: ['notFound', 'There is no such file.', 'Check the path.'],
  EACCES: ['noAccess', 'The file may not be opened.', 'Check its permissions.'],
  EPERM: ['noAccess', 'The file may not be opened.', 'Check its permissions.'],
  EISDIR: ['isFolder', 'This is a folder.', 'Name the files in it.'],
  EEXIST: ['exists', 'There is something of that name already.', 'Choose another name.'],
  ENOSPC: ['diskFull', 'The disk is full.', 'Make room, or write somewhere else.'],
  EDQUOT: ['diskFull', 'The disk is full.', 'Make room, or write somewhere else.'],
  EFBIG: ['diskFull', 'The disk takes no file so large.', 'Write to another disk.'],
  ENAMETOOLONG: ['nameTooLong', 'The name is longer than the disk takes.', 'Choose a shorter name.'],
  EROFS: ['readOnly', 'The disk is read-only.', 'Write somewhere else.'],
  ELOOP: ['linkLoop', 'This is a link that leads back to itself.', 'Name the file itself.'],
  EMFILE: ['tooManyOpen', 'Too many files are open.', 'Try again with --jobs 1.'],
  ENFILE: ['tooManyOpen', 'Too many files are open.', 'Close other programs and try again.'],
  EIO: ['diskError', 'The disk reports an error.', 'Check the disk, or copy the file to another one.'],
  EBUSY: ['busy', 'Another program is using the file.', 'Try again once it has let go.'],
  ETXTBSY: ['busy', 'Another program is using the file.', 'Try again once it has let go.'],
  ENXIO: ['notAFile', 'This is not an ordinary file.', 'Copy its contents to a file first.'],
  ENODEV: ['notAFile', 'This is not an ordinary file.', 'Copy its contents to a file first.'],
};

/** Any failure as code, message and hint. */
export function trouble(error: unknown): Trouble {
  if (error instanceof AudioFileError || error instanceof FileError || error instanceof CutError) {
    return { code: error.code, message: error.message, hint: error.hint };
  }
  const reason = REASONS[(error as NodeJS.ErrnoException).code ?? ''];
  if (reason) return { code: reason[0], message: reason[1], hint: reason[2] };
  return {
    code: 'unexpected',
    message: error instanceof Error ? error.message : String(error),
    hint: 'Report this as a defect.',
  };
}

/** What tells a file from what it was: another size, time of change or identity is another file. */
export interface FileStamp {
  readonly dev: bigint;
  readonly ino: bigint;
  readonly size: bigint;
  readonly mtimeNs: bigint;
}

/** The stamp of what a path leads to now. */
export const stampOf = (path: string): Promise<FileStamp> => stat(osPath(absolute(path)), { bigint: true });

/** @throws AudioFileError when they are not of the same, unchanged file */
export function checkUnchanged(before: FileStamp, now: FileStamp): void {
  if (
    before.dev !== now.dev ||
    before.ino !== now.ino ||
    before.size !== now.size ||
    before.mtimeNs !== now.mtimeNs
  )
    throw changedMeanwhile();
}

/** A file is looked at while it is read, but not more often than this, ms. */
const CHECKED_EVERY_MS = 100;

/** An open file; a read of one that has changed since it was opened is an error. */
class FileSource implements ByteSource {
  readonly size: number;
  private checked = performance.now();

  constructor(
    private readonly handle: FileHandle,
    private readonly stamp: FileStamp,
  ) {
    this.size = Number(stamp.size);
  }

  /** @throws AudioFileError when the file has changed since it was opened */
  async check(): Promise<void> {
    this.checked = performance.now();
    checkUnchanged(this.stamp, await this.handle.stat({ bigint: true }));
  }

  async read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array> {
    const wanted = Math.max(0, Math.min(length, this.size - offset));
    // Every byte is written before it is read, so there is no need to clear them first.
    const bytes = into && into.length >= wanted ? into : Buffer.allocUnsafe(wanted);
    let got = 0;
    while (got < wanted) {
      const { bytesRead } = await this.handle.read(bytes, got, wanted - got, offset + got);
      if (bytesRead === 0) break;
      got += bytesRead;
    }
    if (got < wanted || performance.now() - this.checked > CHECKED_EVERY_MS) await this.check();
    return bytes.subarray(0, got);
  }
}

const notOrdinary = (): FileError =>
  new FileError('notAFile', 'This is not an ordinary file.', 'Copy its contents to a file first.');

/**
 * Opens an ordinary file for reading. A pipe or a device would wait for ever or never end: it is refused.
 * @returns the open file and its bytes
 */
export async function openFile(path: string): Promise<{ handle: FileHandle; source: FileSource }> {
  const named = osPath(absolute(path));
  // Looked at before it is opened: opening a pipe waits for somebody to write.
  const found = await stat(named);
  if (found.isDirectory()) throw new FileError('isFolder', 'This is a folder.', 'Name the files in it.');
  if (!found.isFile()) throw notOrdinary();
  const handle = await open(named, constants.O_RDONLY | constants.O_NONBLOCK);
  try {
    const info = await handle.stat({ bigint: true });
    if (!info.isFile()) throw notOrdinary();
    return { handle, source: new FileSource(handle, info) };
  } catch (error) {
    await handle.close();
    throw error;
  }
}

/**
 * Opens a file for reading while `work` runs.
 * @throws AudioFileError when it changed meanwhile, whatever came of the work
 */
export async function withFile<T>(path: string, work: (source: ByteSource) => Promise<T>): Promise<T> {
  const { handle, source } = await openFile(path);
  try {
    const result = await work(source).catch(async (error: unknown) => {
      await source.check();
      throw error;
    });
    await source.check();
    return result;
  } finally {
    await handle.close();
  }
}

/**
 * The text of a small file: a plan, a cut, subtitles.
 * @param most bytes it may have; `check` says what to do about more
 */
export async function readText(path: string, check: (bytes: number) => void): Promise<string> {
  return withFile(path, async (source) => {
    check(source.size);
    return textOf(await source.read(0, source.size));
  });
}

/**
 * The text of a file that a command takes besides its sound or cut: what is wrong names that file.
 * @param most bytes that it may have
 * @param what it is, such as “plan”
 * @throws FileError
 */
export async function readSideText(path: string, most: number, what: string): Promise<string> {
  try {
    return await readText(path, (bytes) => {
      if (bytes > most)
        throw new FileError(
          'tooLarge',
          `This is larger than any ${what}.`,
          'Check that it is the right file.',
        );
    });
  } catch (error) {
    const { code, message, hint } = trouble(error);
    throw new FileError(code, `${shown(path)}: ${message}`, hint);
  }
}

/** Whether two paths lead to one file. */
export async function sameFile(a: string, b: string): Promise<boolean> {
  const [first, second] = await Promise.all(
    [a, b].map((path) => stat(osPath(path), { bigint: true }).catch(() => null)),
  );
  if (!first || !second) return a === b;
  return first.ino === second.ino && first.dev === second.dev;
}

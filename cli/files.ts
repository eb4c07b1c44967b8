import { open, rename, stat, unlink, type FileHandle } from 'node:fs/promises';
import { resolve } from 'node:path';
import type { ByteSource } from '@/core/audio/byteSource';
import { AudioFileError } from '@/core/formats/errors';

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

/** Paths are meant from where the user stands, not from where the product lies. */
export const absolute = (path: string): string => resolve(process.env['DENGUNG_CWD'] ?? process.cwd(), path);

const REASONS: Readonly<Record<string, readonly [code: string, message: string, hint: string]>> = {
  ENOENT: ['notFound', 'There is no such file.', 'Check the path.'],
  ENOTDIR: ['notFound', 'There is no such file.', 'Check the path.'],
  EACCES: ['noAccess', 'The file may not be opened.', 'Check its permissions.'],
  EISDIR: ['isFolder', 'This is a folder.', 'Name the files in it.'],
  ENOSPC: ['diskFull', 'The disk is full.', 'Make room, or write somewhere else.'],
};

/** Any failure as code, message and hint. */
export function trouble(error: unknown): { code: string; message: string; hint: string } {
  if (error instanceof AudioFileError || error instanceof FileError) {
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

class FileSource implements ByteSource {
  constructor(
    private readonly handle: FileHandle,
    readonly size: number,
  ) {}

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
    return bytes.subarray(0, got);
  }
}

/** The bytes of an open file. */
export const fileSource = (handle: FileHandle, size: number): ByteSource => new FileSource(handle, size);

/** Opens a file for reading while `work` runs. */
export async function withFile<T>(path: string, work: (source: ByteSource) => Promise<T>): Promise<T> {
  const handle = await open(absolute(path), 'r');
  try {
    const info = await handle.stat();
    if (info.isDirectory()) throw new FileError('isFolder', 'This is a folder.', 'Name the files in it.');
    if (!info.isFile())
      throw new FileError('notAFile', 'This is not an ordinary file.', 'Copy its contents to a file first.');
    return await work(new FileSource(handle, info.size));
  } finally {
    await handle.close();
  }
}

async function sameFile(a: string, b: string): Promise<boolean> {
  const [first, second] = await Promise.all([a, b].map((path) => stat(path).catch(() => null)));
  return first !== null && second !== null && first!.ino === second!.ino && first!.dev === second!.dev;
}

/**
 * Writes a file under another name first and renames it when it is whole, so that neither a failure nor Ctrl+C leaves
 * half a file.
 * @param input what is read meanwhile and must not be written over, if anything
 */
export async function writeWhole(
  path: string,
  input: string | null,
  write: (sink: (bytes: Uint8Array) => Promise<void>) => Promise<void>,
): Promise<void> {
  const target = absolute(path);
  if (input !== null && (await sameFile(target, absolute(input)))) {
    throw new FileError(
      'sameFile',
      'The file to write is the file being read.',
      'Choose another name after --out.',
    );
  }
  const part = `${target}.part`;
  const handle = await open(part, 'w');
  try {
    await write(async (bytes) => {
      let done = 0;
      while (done < bytes.length) done += (await handle.write(bytes, done)).bytesWritten;
    });
    await handle.close();
    await rename(part, target);
  } catch (error) {
    await handle.close().catch(() => undefined);
    await unlink(part).catch(() => undefined);
    throw error;
  }
}

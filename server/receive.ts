import { createHash, randomBytes } from 'node:crypto';
import { open, type FileHandle } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { ApiError } from './apiError';
import { count, noRoom } from './folders';

/** Larger bodies are not taken, bytes. */
export const mostBytes = (): number => Number(process.env['DENGUNG_MOST_BYTES']) || 16e9;

/** A body has to go on within so long; and having been waited for so long in all, to have come at a pace. */
const patienceMs = (): number => Number(process.env['DENGUNG_PATIENCE_MS']) || 60_000;
/** The least pace of a body that is waited for, bytes a second: what is slower only holds a place. */
const LEAST_PACE = 1_000;

/** A file in a folder of its own, for the time of one answer. */
export interface TakenIn {
  readonly path: string;
  readonly bytes: number;
  readonly sha256: string;
}

/** The name that a file was sent by; nothing of it becomes a path. */
export function sentName(name: string | null): string {
  const last = (name ?? '')
    .split(/[/\\]/)
    .at(-1)!
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .trim();
  return last === '' || last.length > 250 ? 'sound' : last;
}

export const tooLarge = (): ApiError =>
  new ApiError(
    ...([413, 'tooLarge', `More than ${Math.round(mostBytes() / 1e9)} GB are not taken.`] as const),
    'Send a part of it, or use the command line.',
  );

const stalled = (message: string): ApiError => new ApiError(408, 'stalled', message, 'Send it again.');

/** Reads a body as long as it goes on: one that stands still, or comes by drops, is given up. */
class PacedReader {
  private readonly reader: ReadableStreamDefaultReader<Uint8Array>;
  private waitedMs = 0;
  private bytes = 0;

  constructor(body: ReadableStream<Uint8Array>) {
    this.reader = body.getReader();
  }

  /** @returns the next piece; `null` at the end @throws ApiError where it breaks off, or is too slow */
  async next(): Promise<Uint8Array | null> {
    const patience = patienceMs();
    const began = performance.now();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const slow = new Promise<never>((_, reject) => {
      timer = setTimeout(() => reject(stalled('The body did not go on.')), patience);
    });
    try {
      const { done, value } = await Promise.race([this.reader.read(), slow]);
      if (done) return null;
      // Only the time that it was waited for: what is done with it may take as long as it likes.
      this.waitedMs += performance.now() - began;
      this.bytes += value.length;
      if (this.waitedMs > patience && this.bytes < (LEAST_PACE * this.waitedMs) / 1_000)
        throw stalled('The body came too slowly.');
      return value;
    } catch (error) {
      if (error instanceof ApiError) throw error;
      throw new ApiError(400, 'brokenOff', 'The body broke off.', 'Send it again.');
    } finally {
      clearTimeout(timer);
    }
  }

  /** Not waited for: it would only end with the next piece, which may never come. */
  end(): void {
    void this.reader.cancel().catch(() => undefined);
  }
}

/** Writes all of some bytes: a disk that is nearly full takes a part of them. @throws ApiError where it takes no more */
export async function writeAll(
  handle: Pick<FileHandle, 'write'>,
  bytes: Uint8Array,
  at: number,
): Promise<void> {
  try {
    for (let done = 0; done < bytes.length;) {
      const { bytesWritten } = await handle.write(bytes, done, bytes.length - done, at + done);
      // What takes nothing and says nothing would be asked for ever.
      if (bytesWritten === 0) throw Object.assign(new Error('Nothing was written'), { code: 'ENOSPC' });
      done += bytesWritten;
    }
  } catch (error) {
    throw noRoom(error);
  }
}

/** Writes a body behind what is in a file, piece by piece. @returns how many bytes came */
export async function append(
  request: Request,
  handle: FileHandle,
  at: number,
  most: number,
  onBytes: (bytes: Uint8Array) => Promise<void> | void,
): Promise<number> {
  if (!request.body) return 0;
  const reader = new PacedReader(request.body);
  let came = 0;
  try {
    for (;;) {
      const bytes = await reader.next();
      if (!bytes) return came;
      if (at + came + bytes.length > most) throw tooLarge();
      await writeAll(handle, bytes, at + came);
      came += bytes.length;
      await onBytes(bytes);
    }
  } finally {
    reader.end();
  }
}

/** Takes in the body of a request as a file. @throws ApiError when there is none, it is too large or breaks off */
export async function takeIn(request: Request, folder: string, name: string): Promise<TakenIn> {
  const declared = Number(request.headers.get('content-length') ?? 0);
  if (declared > mostBytes()) throw tooLarge();
  const type = request.headers.get('content-type') ?? '';
  if (/^(multipart\/|application\/x-www-form-urlencoded)/i.test(type))
    throw new ApiError(
      ...([415, 'form', 'The body is to be the file itself, not a form.'] as const),
      'Send it as it is: curl --data-binary @FILE -H "Content-Type: application/octet-stream"',
    );
  const path = join(
    folder,
    `${randomBytes(8).toString('hex')}${/^\.\w{1,8}$/.exec(extname(name))?.[0] ?? ''}`,
  );
  const handle = await open(path, 'wx', 0o600);
  const hash = createHash('sha256');
  try {
    const bytes = await append(request, handle, 0, mostBytes(), (piece) => {
      count(folder, piece.length);
      hash.update(piece);
    });
    if (bytes === 0) throw new ApiError(422, 'empty', 'There is no body.', 'Send the file as the body.');
    if (declared > 0 && bytes !== declared)
      throw new ApiError(400, 'brokenOff', `${bytes} of ${declared} bytes came.`, 'Send it again.');
    if ((await handle.stat()).size !== bytes)
      throw noRoom(Object.assign(new Error('Not all of it was written'), { code: 'ENOSPC' }));
    return { path, bytes, sha256: hash.digest('hex') };
  } finally {
    await handle.close();
  }
}

/** A small body of text, such as JSON. @throws ApiError when it is larger than so many bytes, or breaks off */
export async function takeText(request: Request, most: number): Promise<string> {
  if (!request.body) return '';
  const reader = new PacedReader(request.body);
  const decoder = new TextDecoder();
  let text = '';
  let came = 0;
  try {
    for (;;) {
      const bytes = await reader.next();
      if (!bytes) return text + decoder.decode();
      came += bytes.length;
      if (came > most)
        throw new ApiError(413, 'tooLarge', `More than ${most} bytes are not taken here.`, 'Send less.');
      text += decoder.decode(bytes, { stream: true });
    }
  } finally {
    reader.end();
  }
}

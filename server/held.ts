import { randomBytes } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { ApiError } from './apiError';
import { removeFolder } from './folders';
import { shared } from './shared';

/** A file waits so long to be fetched. */
const HELD_MS = 10 * 60_000;
/** So many wait at most; the oldest goes. */
const MOST_HELD = 64;

interface Held {
  readonly path: string;
  readonly folder: string;
  readonly name: string;
  readonly timer: ReturnType<typeof setTimeout>;
}

const all = shared('held', () => new Map<string, Held>());

const forget = async (token: string): Promise<void> => {
  const held = all.get(token);
  if (!held) return;
  all.delete(token);
  clearTimeout(held.timer);
  await removeFolder(held.folder);
};

/** Holds a file until it is fetched, for ten minutes at most. @returns what it is fetched by */
export async function hold(folder: string, path: string, name: string): Promise<string> {
  const [oldest] = all.keys();
  if (all.size >= MOST_HELD && oldest) await forget(oldest);
  const token = randomBytes(24).toString('hex');
  const timer = setTimeout(() => void forget(token), HELD_MS);
  timer.unref();
  all.set(token, { path, folder, name, timer });
  return token;
}

const headersOf = (name: string, size: number): Readonly<Record<string, string>> => ({
  'Content-Type': 'application/octet-stream',
  'Content-Length': String(size),
  // RFC 8187: what is no letter, digit or one of a few marks is written by its number.
  'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (mark) => `%${mark.charCodeAt(0).toString(16).toUpperCase()}`)}`,
  'Cache-Control': 'no-store',
});

/**
 * Hands a file out. Once all of it has gone out it is forgotten; one that breaks off can be fetched again.
 * @param only its headers, which leave it where it is
 * @throws ApiError when there is none
 */
export async function handOut(token: string, only: 'headers' | null = null): Promise<Response> {
  const held = all.get(token);
  if (!held)
    throw new ApiError(
      404,
      'noFile',
      'There is no such file, or it was fetched.',
      'Ask for it to be made again.',
    );
  const { size } = await stat(held.path).catch(async (error: unknown) => {
    await forget(token);
    throw error;
  });
  const headers = headersOf(held.name, size);
  if (only === 'headers') return new Response(null, { headers });
  const stream = createReadStream(held.path);
  stream.once('end', () => void forget(token));
  return new Response(Readable.toWeb(stream) as ReadableStream, { headers });
}

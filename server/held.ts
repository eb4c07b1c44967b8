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

/** Hands a file out, once. @throws ApiError when there is none */
export async function handOut(token: string): Promise<Response> {
  const held = all.get(token);
  if (!held)
    throw new ApiError(
      404,
      'noFile',
      'There is no such file, or it was fetched.',
      'Ask for it to be made again.',
    );
  all.delete(token);
  clearTimeout(held.timer);
  const remove = (): void => void removeFolder(held.folder);
  const { size } = await stat(held.path).catch((error: unknown) => {
    remove();
    throw error;
  });
  const stream = createReadStream(held.path);
  stream.once('close', remove);
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(size),
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(held.name)}`,
      'Cache-Control': 'no-store',
    },
  });
}

import { createSHA256 } from 'hash-wasm';
import type { ByteSource } from '@/core/audio/byteSource';

const READ_BYTES = 4 * 1024 * 1024;

/**
 * SHA-256 of a file, in hexadecimal.
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @returns `null` when stopped
 */
export async function sha256Of(
  source: ByteSource,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<string | null> {
  const hash = await createSHA256();
  hash.init();
  for (let at = 0; at < source.size; at += READ_BYTES) {
    hash.update(await source.read(at, READ_BYTES));
    if (!(await proceed(Math.min(1, (at + READ_BYTES) / source.size)))) return null;
  }
  return hash.digest('hex');
}

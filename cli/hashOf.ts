import { createHash } from 'node:crypto';

/** How many bytes come, and the SHA-256 of all of them in hexadecimal. */
export async function hashOf(
  pieces: AsyncIterable<Uint8Array>,
): Promise<{ readonly bytes: number; readonly sha256: string }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const piece of pieces) {
    hash.update(piece);
    bytes += piece.length;
  }
  return { bytes, sha256: hash.digest('hex') };
}

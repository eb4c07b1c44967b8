import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blobSource, cachedBlobSource } from './blobSource';

describe('a Blob read through the cache', () => {
  it('gives the same bytes as the Blob itself, across blocks and at its end', async () => {
    const bytes = Uint8Array.from({ length: 2_500_000 }, (_, i) => (i * 31) % 251);
    const blob = new Blob([bytes]);
    const cached = cachedBlobSource('test', blob);
    const direct = blobSource(blob);
    expect(cached.size).toBe(bytes.length);
    await fc.assert(
      fc.asyncProperty(fc.nat(2_600_000), fc.nat(2_200_000), async (offset, length) => {
        const expected = bytes.subarray(offset, offset + length);
        expect(Buffer.compare(await cached.read(offset, length), expected)).toBe(0);
        expect(Buffer.compare(await direct.read(offset, length), expected)).toBe(0);
      }),
      { numRuns: 30 },
    );
  });
});

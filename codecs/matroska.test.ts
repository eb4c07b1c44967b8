import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { attempt, type Fate } from './fuzz/attempt';

const blink = new Uint8Array(readFileSync(join(import.meta.dirname, 'fixtures', 'blink.webm')));
/** Up to where the first element of its segment begins. */
const HEAD = 52;

/** Where the reader of Matroska finds nothing to go on with it searches without end: such a file never gives anything else to do. */
describe('a Matroska file that is cut short', () => {
  it('comes to an end wherever it is cut', async () => {
    const fates = new Set<Fate>();
    for (let length = 1; length < blink.length; length++) fates.add(await attempt(blink.slice(0, length)));
    expect(fates).toContain('refused');
    expect(fates).toContain('partial');
  }, 60_000);

  it('comes to an end however far its last element would have gone on', async () => {
    for (let claimed = 0; claimed < 120; claimed++)
      for (const there of new Set([0, 1, claimed >> 1, claimed])) {
        // Nothing (Void, RFC 8794, clause 11.3.2) of so many bytes, of which not all are there.
        const end = Uint8Array.from([0xec, 0x80 | claimed, ...new Uint8Array(Math.min(there, claimed))]);
        expect(await attempt(Uint8Array.from([...blink.slice(0, HEAD), ...end]))).toBe('refused');
      }
  }, 60_000);
});

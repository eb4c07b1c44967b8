import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { compressedSpecimens, plainSpecimens } from './corpus';
import { sweepFields } from './sweep';

describe('damaged files of every format', () => {
  // Decoders complain on the console of what they are given.
  beforeAll(() => {
    for (const name of ['error', 'warn', 'log'] as const) vi.spyOn(console, name).mockReturnValue();
  });
  afterAll(() => void vi.restoreAllMocks());

  it('counts and sizes that cannot be come to an end', async () => {
    let tried = 0;
    for (const specimen of plainSpecimens()) {
      const result = await sweepFields(specimen, { most: 120, values: [0x7fffffff, 0xffffffff] });
      expect(result.harm).toEqual([]);
      tried += result.tried;
    }
    for (const specimen of compressedSpecimens()) {
      // The tables of MP4 and MOV stand at the end.
      const tables = /mov|mp4|m4a/.test(specimen.name);
      const result = await sweepFields(specimen, {
        ...(tables ? { from: specimen.bytes.length - 700, step: 2 } : { most: 120, step: 4 }),
        values: [0x7fffffff],
      });
      expect(result.harm).toEqual([]);
      tried += result.tried;
    }
    expect(tried).toBeGreaterThan(3_000);
  }, 300_000);
});

import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { describe, expect, it } from 'vitest';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { noise } from '@/core/testing/signals';
import { openPool } from './pool';
import { workplace } from './testing/workplace';

const { root, folder, write } = await workplace('pool');

describe('workers that measure', () => {
  it('one that tells nothing is given up, and others go ahead', async () => {
    const worker = pathToFileURL(join(root, '.cache/cli/worker.mjs'));
    const long = join(folder, write('long.wav', [noise(48_000 * 120, 0.1, 1)]));
    const begin = (file: string) => ({ kind: 'begin', file, choice: WHOLE_FIRST_SOUND }) as const;
    const hasty = openPool(1, { worker, lookMs: 1, patience: 0 });
    const patient = openPool(1, { worker });
    try {
      await expect(hasty.run(begin(long), 1, () => undefined)).rejects.toMatchObject({ code: 'stalled' });
      // Its place is free for the next file.
      await expect(hasty.run(begin(join(folder, 'gone.wav')), 2, () => undefined)).rejects.toMatchObject({
        code: expect.stringMatching(/stalled|notFound/) as string,
      });
      await expect(patient.run(begin(long), 1, () => undefined)).resolves.toMatchObject({ kind: 'done' });
    } finally {
      await hasty.close();
      await patient.close();
    }
  });
});

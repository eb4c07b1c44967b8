import { copyFileSync, renameSync, truncateSync, utimesSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { describe, expect, it } from 'vitest';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { noise } from '@/core/testing/signals';
import { withFile } from './files';
import { measureFile } from './measureFile';
import { openPool } from './pool';
import { workplace } from './testing/workplace';

const { root, folder, write } = await workplace('changed');
const at = (name: string): string => join(folder, name);
const whole = at(write('whole.wav', [noise(48_000 * 500, 0.1, 1), noise(48_000 * 500, 0.1, 2)]));
const worker = pathToFileURL(join(root, '.cache/cli/worker.mjs'));

const changes = {
  'is shortened': (path: string) => truncateSync(path, 1_000_000),
  'is written to': (path: string) => utimesSync(path, new Date(0), new Date(0)),
  'is replaced by another': (path: string) => {
    copyFileSync(whole, `${path}.new`);
    renameSync(`${path}.new`, path);
  },
};

describe('a file that changes while it is measured has no figures', () => {
  for (const [what, change] of Object.entries(changes))
    it.each([1, 2])(`where it ${what}, with %i workers`, async (jobs) => {
      const path = at('mix.wav');
      copyFileSync(whole, path);
      const pool = openPool(jobs, { worker });
      let changed = false;
      try {
        const measured = measureFile(path, WHOLE_FIRST_SOUND, pool, () => {
          if (!changed) change(path);
          changed = true;
        });
        await expect(measured).rejects.toMatchObject({ code: 'unreadable' });
        expect(changed).toBe(true);
      } finally {
        await pool.close();
      }
    });

  it('whoever reads it, and however little of it is left to read', async () => {
    const path = at('mix.wav');
    copyFileSync(whole, path);
    const reading = withFile(path, async (source) => {
      await source.read(0, 100);
      changes['is written to'](path);
      return 'read';
    });
    await expect(reading).rejects.toMatchObject({ code: 'unreadable' });
  });
});

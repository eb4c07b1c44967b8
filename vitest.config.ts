import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const shared = {
  environment: 'node',
  setupFiles: ['scripts/fixedSeed.ts'],
  testTimeout: 60_000,
};

/** Replaces modules of the core: it needs them for itself. */
const REPLACES = 'core/signal/madeUpStation.test.ts';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('.', import.meta.url)) } },
  test: {
    maxWorkers: '100%',
    projects: [
      {
        extends: true,
        // Pure as it is, the core is loaded once for all of its tests.
        test: {
          ...shared,
          name: 'core',
          include: ['core/**/*.test.ts'],
          exclude: [REPLACES],
          isolate: false,
        },
      },
      {
        extends: true,
        test: {
          ...shared,
          name: 'around',
          include: [
            '{codecs,documents,engine,storage,interface,cli,server,scripts}/**/*.test.{ts,tsx}',
            REPLACES,
          ],
        },
      },
    ],
  },
});

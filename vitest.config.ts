import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('.', import.meta.url)) } },
  test: {
    maxWorkers: '100%',
    include: ['{core,codecs,documents,engine,storage,interface,cli,server,scripts}/**/*.test.{ts,tsx}'],
    environment: 'node',
    setupFiles: ['scripts/fixedSeed.ts'],
    testTimeout: 60_000,
  },
});

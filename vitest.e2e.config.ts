import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('.', import.meta.url)) } },
  test: {
    include: ['e2e/**/*.test.ts'],
    environment: 'node',
    testTimeout: 180_000,
    hookTimeout: 120_000,
    globalSetup: ['e2e/support/globalServer.ts'],
    // One browser more than there are cores: each waits much of its time.
    maxWorkers: availableParallelism() + 1,
  },
});

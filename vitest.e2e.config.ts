import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Those that take longest by far: begun last, they would run alone at the end. */
const LONGEST = [
  'kills',
  'access',
  'deliver',
  'audit',
  'overTime',
  'faces',
  'parts',
  'safety',
  'check',
  'demo',
  'layout',
  'arranging',
  'offline',
];

const turnOf = ({ moduleId }: TestSpecification): number => {
  const turn = LONGEST.findIndex((name) => moduleId.endsWith(`/${name}.test.ts`));
  return turn < 0 ? LONGEST.length : turn;
};

class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files);
    return [...sorted].sort((a, b) => turnOf(a) - turnOf(b));
  }
}

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('.', import.meta.url)) } },
  test: {
    include: ['e2e/**/*.test.ts'],
    environment: 'node',
    // Against what hangs, not against what is slow: a busy machine takes its time.
    testTimeout: 900_000,
    hookTimeout: 300_000,
    globalSetup: ['e2e/support/globalServer.ts'],
    sequence: { sequencer: LongestFirst },
    // Two browsers more than there are cores: each waits much of its time.
    maxWorkers: availableParallelism() + 2,
  },
});

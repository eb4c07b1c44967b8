import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { build } from 'esbuild';
import { afterAll, vi } from 'vitest';
import { ThreadWorker } from './workerThread';

/** Tests are run from the root. */
const root = `${process.cwd()}/`;

/** The product's own workers for the tests of one file, in threads; those that still run are ended afterwards. */
export async function realWorkers(): Promise<typeof ThreadWorker> {
  mkdirSync(`${root}.cache`, { recursive: true });
  const folder = mkdtempSync(`${root}.cache/threads-`);
  await build({
    entryPoints: ['deliver', 'measure', 'programme', 'range', 'render']
      .map((name) => `${root}engine/${name}.worker.ts`)
      .concat(`${root}engine/testing/workerThread.ts`),
    outdir: folder,
    entryNames: '[name]',
    outExtension: { '.js': '.mjs' },
    absWorkingDir: root,
    bundle: true,
    splitting: true,
    packages: 'external',
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
  });
  ThreadWorker.folder = folder;
  vi.stubGlobal('Worker', ThreadWorker);
  if (!('navigator' in globalThis)) vi.stubGlobal('navigator', { hardwareConcurrency: 3 });
  afterAll(() => {
    for (const worker of ThreadWorker.running) worker.terminate();
    rmSync(folder, { recursive: true, force: true });
  });
  return ThreadWorker;
}

// Long trials of the product as it is built: npm run endure -- kills [--count 1000] [--seed 1] [--minutes 60]
import { spawnSync } from 'node:child_process';
import { buildIfNeeded } from './lib/build.mjs';
import { fail, install, root, run } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';
import { placeServedFiles } from './lib/servedFiles.mjs';

install();
buildKernels();
placeServedFiles();
await buildIfNeeded(run, fail);
const { status } = spawnSync(
  process.execPath,
  ['--import', 'tsx', 'e2e/endure/main.ts', ...process.argv.slice(2)],
  {
    cwd: root,
    stdio: 'inherit',
  },
);
process.exit(status ?? 1);

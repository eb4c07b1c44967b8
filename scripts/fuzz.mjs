// Damages sound files of every format and sees what becomes of them: npm run fuzz [-- --count 20000] [--seed 1]
import { spawnSync } from 'node:child_process';
import { install, root } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';

install();
buildKernels();
const { status } = spawnSync(
  process.execPath,
  ['--import', 'tsx', 'codecs/fuzz/main.ts', ...process.argv.slice(2)],
  { cwd: root, stdio: 'inherit' },
);
process.exit(status ?? 1);

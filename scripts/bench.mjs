// Speed, as ratios: npm run bench [-- --minutes 60] [--only node|programme|path|proposal|growth|lanes|session|check|deliver|memory|browser|long] [--yardstick PROGRAM]
import { spawnSync } from 'node:child_process';
import { buildIfNeeded } from './lib/build.mjs';
import { buildCli } from './lib/cli.mjs';
import { fail, install, root, run } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';
import { placeServedFiles } from './lib/servedFiles.mjs';

install();
buildKernels();
placeServedFiles();
await buildIfNeeded(run, fail);
const program = await buildCli({ bench: `${root}bench/main.ts` });
const bench = program.replace('main.mjs', 'bench.mjs');
const { status } = spawnSync(process.execPath, [bench, '--program', program, ...process.argv.slice(2)], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(status ?? 1);

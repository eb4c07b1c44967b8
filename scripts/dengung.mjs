// The command line: installs what it needs on first use, bundles cli/ when it has changed, and runs it.
import { spawnSync } from 'node:child_process';
import { buildCli } from './lib/cli.mjs';
import { install, root } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';

install();
buildKernels();
const main = await buildCli();
const { status, signal } = spawnSync(process.execPath, [main, ...process.argv.slice(2)], {
  stdio: 'inherit',
  env: { ...process.env, DENGUNG_CWD: process.env.INIT_CWD ?? process.cwd(), DENGUNG_ROOT: root },
});
process.exit(signal ? 1 : (status ?? 1));

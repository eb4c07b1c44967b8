// Builds the command line, so that it starts at once: when the packages are installed, and when it was not built yet.
import { existsSync } from 'node:fs';
import { buildCli } from './lib/cli.mjs';
import { install, root } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';

const installing = process.env.npm_lifecycle_event !== undefined;
if (!installing) install();
// Packages that build are left out where only those are installed that run.
const canBuild = ['assemblyscript', 'esbuild'].every((name) => existsSync(`${root}node_modules/${name}`));
if (canBuild) {
  buildKernels();
  await buildCli();
}

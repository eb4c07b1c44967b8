// The command line: installs what it needs on first use, bundles cli/ when it has changed, and runs it in this process,
// so that signals reach it and nothing else.
import { pathToFileURL } from 'node:url';
import { buildCli } from './lib/cli.mjs';
import { install, root } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';

install();
buildKernels();
const main = await buildCli();
process.env.DENGUNG_CWD = process.env.INIT_CWD ?? process.cwd();
process.env.DENGUNG_ROOT = root;
await import(pathToFileURL(main).href);

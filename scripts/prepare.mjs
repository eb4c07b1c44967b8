// Builds the command line, so that it starts at once: when the packages are installed, and when it was not built yet.
import { buildCli } from './lib/cli.mjs';
import { install } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';

if (!process.env.npm_lifecycle_event) install();
buildKernels();
await buildCli();

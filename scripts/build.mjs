// Builds the product if it is not built as it stands: npm run build
import { buildIfNeeded } from './lib/build.mjs';
import { buildCli } from './lib/cli.mjs';
import { fail, install, run } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';
import { placeServedFiles } from './lib/servedFiles.mjs';

install();
buildKernels();
placeServedFiles();
await buildIfNeeded(run, fail);
// The server's workers run the same as the command line.
await buildCli();

// Builds the product if it is not built as it stands: npm run build
import { buildIfNeeded } from './lib/build.mjs';
import { fail, install, run } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';
import { placeVoiceModel } from './lib/voiceModel.mjs';

install();
buildKernels();
placeVoiceModel();
buildIfNeeded(run, fail);

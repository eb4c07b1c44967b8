// The product while it is worked on: pages change as their sources do. npm run dev [-- --port 4700]
import { spawn } from 'node:child_process';
import { install, root } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';
import { placeServedFiles } from './lib/servedFiles.mjs';

install();
buildKernels();
placeServedFiles();
const next = ['node_modules/next/dist/bin/next', 'dev', '--hostname', '127.0.0.1', ...process.argv.slice(2)];
const server = spawn(process.execPath, next, {
  cwd: root,
  stdio: 'inherit',
  env: {
    ...process.env,
    DENGUNG_LISTENS: '127.0.0.1',
    DENGUNG_FAULTS: '1',
    DENGUNG_DEMO: '1',
    NEXT_TELEMETRY_DISABLED: '1',
  },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => server.kill(signal));
server.once('exit', (code) => process.exit(code ?? 0));

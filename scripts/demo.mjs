// One command from a fresh clone to the running product with the demo programme: install, build, start.
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { fail, install, root, run } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';
import { placeServedFiles } from './lib/servedFiles.mjs';
import { buildIfNeeded } from './lib/build.mjs';
import { buildCli } from './lib/cli.mjs';

const host = '127.0.0.1';
const wanted = Number(process.env.PORT ?? 4610);

function isFree(port) {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, host, () => probe.close(() => resolve(true)));
  });
}

install();
buildKernels();
placeServedFiles();
await buildIfNeeded(run, fail);
// The server's workers run the same as the command line.
await buildCli();

let port = wanted;
while (port < wanted + 20 && !(await isFree(port))) port++;
if (port === wanted + 20)
  fail(`Ports ${wanted} to ${port - 1} are all taken. Select another: PORT=5000 npm run demo`);

const server = spawn(process.execPath, ['scripts/serve.mjs', host, String(port)], {
  cwd: root,
  stdio: ['ignore', 'ignore', 'inherit'],
  env: { ...process.env, NODE_ENV: 'production', DENGUNG_DEMO: '1', NEXT_TELEMETRY_DISABLED: '1' },
});
server.once('exit', (code) => process.exit(code ?? 0));
for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => server.kill(signal));

const address = `http://${host}:${port}`;
for (let attempt = 0; attempt < 150; attempt++) {
  try {
    if ((await fetch(address)).ok) break;
  } catch {
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  if (attempt === 149) fail('The server did not answer within 30 s.');
}
console.log(`\nDengung is ready with the demo programme:  ${address}\nStop it with Ctrl+C.\n`);

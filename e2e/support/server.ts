import { spawn, type ChildProcess } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('../../', import.meta.url));

function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });
}

/** The product as it is built, started for the demo on a port of its own. @param more of its environment */
export async function startServer(
  more: Readonly<Record<string, string>> = {},
): Promise<{ base: string; stop: () => void }> {
  const port = await freePort();
  const server: ChildProcess = spawn(process.execPath, ['scripts/serve.mjs', '127.0.0.1', String(port)], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      DENGUNG_DEMO: '1',
      DENGUNG_OFFLINE: '0',
      DENGUNG_FAULTS: '1',
      DENGUNG_LOG: '0',
      NEXT_TELEMETRY_DISABLED: '1',
      ...more,
    },
  });
  const base = `http://127.0.0.1:${port}`;
  for (let attempt = 0; attempt < 200; attempt++) {
    if (
      await fetch(`${base}/projects`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      return { base, stop: () => server.kill() };
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
  server.kill();
  throw new Error('The server did not answer: build first (npm run build).');
}

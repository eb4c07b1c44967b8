// Builds the product when its sources are newer than the last build.
import { existsSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { root } from './install.mjs';
import { buildServiceWorker } from './serviceWorker.mjs';
import { walk } from './walk.mjs';

const built = `${root}.next/dengung-built`;
const folders = [
  'app',
  'codecs',
  'core',
  'documents',
  'engine',
  'interface',
  'server',
  'storage',
  'demo',
  'public',
];
const files = ['package-lock.json', 'next.config.ts', 'proxy.ts', 'tsconfig.json'];

/** Comes out of the build. */
const MADE = `${root}public/serviceWorker.js`;

function fingerprint() {
  const hash = createHash('sha256');
  const paths = folders.flatMap((folder) => (existsSync(root + folder) ? [...walk(root + folder)] : []));
  for (const path of [...paths.sort(), ...files.map((file) => root + file)]) {
    if (path === MADE) continue;
    const { size, mtimeMs } = statSync(path);
    hash.update(`${path} ${size} ${mtimeMs}\n`);
  }
  return hash.digest('hex');
}

export async function buildIfNeeded(run, fail) {
  const wanted = fingerprint();
  if (existsSync(built) && readFileSync(built, 'utf8') === wanted) return;
  console.error('Building (about a minute) …');
  const { status } = run(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  });
  if (status !== 0) fail('The build failed (see above).');
  await buildServiceWorker();
  writeFileSync(built, fingerprint());
}

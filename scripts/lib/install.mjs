// Installs what package-lock.json lists, once per version of that file, and leaves the work tree as it was.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../../', import.meta.url));
const lockFile = `${root}package-lock.json`;
const stampFile = `${root}node_modules/.dengung-installed`;

export function fail(message) {
  console.error(`\n${message}`);
  process.exit(1);
}

function checkNode() {
  const major = Number(process.versions.node.split('.')[0]);
  if (major < 20) fail(`Dengung needs Node 20 or newer; this is Node ${process.versions.node}.`);
}

/** Runs a command with its output on stderr, so that stdout stays for data. */
export function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: root, stdio: ['ignore', 2, 2], ...options });
}

export function install() {
  checkNode();
  const lock = readFileSync(lockFile);
  const wanted = createHash('sha256').update(lock).digest('hex');
  if (existsSync(stampFile) && readFileSync(stampFile, 'utf8') === wanted) return;
  console.error('Installing packages (about a minute, once) …');
  // `npm install` rather than `npm ci`: the latter stops on optional packages made for other systems.
  const done = run('npm', ['install', '--no-audit', '--no-fund', '--loglevel=error']);
  if (done.error?.code === 'ENOENT') fail('npm was not found. Install Node 20 with npm, then try again.');
  const after = readFileSync(lockFile);
  if (!after.equals(lock)) writeFileSync(lockFile, lock);
  if (done.status !== 0) {
    fail(
      'Packages could not be installed (see above). Check the connection to the npm registry, then try again.',
    );
  }
  writeFileSync(stampFile, wanted);
}

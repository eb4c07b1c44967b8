// Everything that must hold before a change lands. Installs what is missing, then checks, builds and tests; ends with
// one line that counts what passed and what failed.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { fail, install, root, run } from './lib/install.mjs';
import { buildKernels } from './lib/kernels.mjs';
import { placeServedFiles } from './lib/servedFiles.mjs';

const only = process.argv.slice(2);
const counts = { passed: 0, failed: 0 };
const failures = [];

function count(name, ok) {
  counts[ok ? 'passed' : 'failed']++;
  if (!ok) failures.push(name);
}

/** Runs a program to its end; `null` where it could not be started. */
function ended(command, args, options) {
  const child = spawn(command, args, { cwd: root, ...options });
  return new Promise((resolve) => {
    child.once('error', () => resolve(null));
    child.once('close', resolve);
  });
}

/** It waits for the net most of the time: begun first, it is done by the time the browser is needed. */
async function installBrowser() {
  if (existsSync('/usr/bin/chromium') && existsSync('/usr/bin/chromedriver')) return;
  console.error('Installing Chromium and its driver from Debian’s packages …');
  const asRoot = process.getuid?.() === 0 ? [] : ['sudo', '-n'];
  // Both in one process: it goes on while this one waits for packages.
  const [command, ...args] = [
    ...asRoot,
    'sh',
    '-c',
    'apt-get update -qq; apt-get install -y -qq chromium chromium-driver',
  ];
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const status = await ended(command, args, { env, stdio: ['ignore', 2, 2] });
  if (status !== 0 || !existsSync('/usr/bin/chromedriver')) {
    fail(
      'Chromium is needed for the browser tests and could not be installed.\nAs root: apt-get install chromium chromium-driver',
    );
  }
}

const bin = (name, file) => `${root}node_modules/${name}/${file}`;

/** A check that passes or fails as a whole; what it writes is shown once it is done, so that several can go on at once. */
async function check(name, script, ...args) {
  if (only.length > 0 && !only.includes(name)) return;
  const child = spawn(process.execPath, [script, ...args], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
  const written = [];
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (bytes) => written.push(bytes));
  const status = await new Promise((resolve) => child.once('close', resolve));
  console.error(`\n— ${name}`);
  process.stderr.write(Buffer.concat(written));
  count(name, status === 0);
}

/** A run of tests, each counted. */
function tests(name, ...args) {
  if (only.length > 0 && !only.includes(name)) return;
  console.error(`\n— ${name}`);
  mkdirSync(`${root}.cache`, { recursive: true });
  const report = `${root}.cache/${name}.json`;
  rmSync(report, { force: true });
  const { status } = run(process.execPath, [
    bin('vitest', 'vitest.mjs'),
    'run',
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
    ...args,
  ]);
  const result = existsSync(report)
    ? JSON.parse(readFileSync(report, 'utf8'))
    : { numPassedTests: 0, numFailedTests: 0 };
  counts.passed += result.numPassedTests;
  counts.failed += result.numFailedTests;
  if (result.numFailedTests > 0) failures.push(name);
  // A file that could not even be loaded has no test that failed, yet has failed; so has a run without any test.
  else if (status !== 0 || result.numPassedTests === 0) count(name, false);
}

const browser = installBrowser();
install();
buildKernels();
placeServedFiles();
const wantsBuild = only.length === 0 || only.includes('build') || only.includes('browser');

async function checks() {
  await check('format', bin('prettier', 'bin/prettier.cjs'), '--check', '--log-level=warn', '.');
  const folders = [
    'core',
    'codecs',
    'documents',
    'engine',
    'server',
    'storage',
    'interface',
    'app',
    'cli',
    'demo',
    'e2e',
    'bench',
  ];
  const layers = bin('dependency-cruiser', 'bin/dependency-cruise.mjs');
  await check('layers', layers, '--config', '.dependency-cruiser.cjs', ...folders);
  await check('dead code', bin('knip', 'bin/knip.js'));
}

async function buildAndTypes() {
  if (wantsBuild) {
    if ((await ended(process.execPath, ['scripts/build.mjs'], { stdio: ['ignore', 2, 2] })) !== 0)
      fail('The build failed (see above).');
    count('build', true);
  }
  // Pages have types of their own once they are built.
  await check('types', bin('typescript', 'bin/tsc'), '--noEmit');
  await check('types of the core', bin('typescript', 'bin/tsc'), '--noEmit', '-p', 'tsconfig.core.json');
}

await Promise.all([
  browser,
  check('lint', bin('eslint', 'bin/eslint.js'), '--max-warnings=0', '.'),
  checks(),
  buildAndTypes(),
]);
tests('unit');
tests('browser', '--config', 'vitest.e2e.config.ts');

if (failures.length > 0) console.log(`\nFailed: ${failures.join(', ')}`);
console.log(`\n${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed > 0 ? 1 : 0);

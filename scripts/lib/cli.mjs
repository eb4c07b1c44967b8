// Bundles the command line, so that it and its workers start at once. A fraction of a second, and only after a change.
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { basename, join } from 'node:path';
import { root } from './install.mjs';

const out = `${root}.cache/cli`;
const stamp = `${out}/built`;

function newest(folder) {
  let most = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    most = Math.max(most, entry.isDirectory() ? newest(path) : statSync(path).mtimeMs);
  }
  return most;
}

/** Puts a file there whole: another process may be reading it, or building the same. */
function put(path, contents) {
  const bytes = Buffer.from(contents);
  if (existsSync(path) && readFileSync(path).equals(bytes)) return;
  const part = `${path}.${process.pid}`;
  writeFileSync(part, bytes);
  renameSync(part, path);
}

const DAY_MS = 86_400_000;

/** Parts of earlier builds go once nobody can be running them any more. */
function removeOld(wanted) {
  for (const name of readdirSync(out)) {
    const path = join(out, name);
    if (!wanted.has(name) && path !== stamp && Date.now() - statSync(path).mtimeMs > DAY_MS) rmSync(path);
  }
}

/**
 * @param more further programs to be bundled beside it, by name
 * @returns the path of the program
 */
export async function buildCli(more = {}) {
  const sources = ['bench', 'cli', 'codecs', 'core', 'documents', 'scripts', 'server'].map((name) =>
    newest(root + name),
  );
  const wanted = [...sources, statSync(`${root}package-lock.json`).mtimeMs, ...Object.keys(more)].join();
  const alone = Object.keys(more).length === 0;
  if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== wanted) {
    const { build } = await import('esbuild');
    const { outputFiles } = await build({
      write: false,
      entryPoints: {
        main: `${root}cli/main.ts`,
        worker: `${root}cli/worker.ts`,
        apiWorker: `${root}server/apiWorker.ts`,
        ...more,
      },
      outdir: out,
      outExtension: { '.js': '.mjs' },
      absWorkingDir: root,
      bundle: true,
      // What is shorter is compiled sooner; names stay, as they stand in errors. Programs that hand functions to a browser are left as they are.
      minify: alone,
      keepNames: alone,
      splitting: true,
      // One file is read sooner than hundreds; decoders and models find their parts beside them.
      external: [
        'onnxruntime-web',
        '@ricky0123/vad-web',
        '@wasm-audio-decoders/*',
        'mpg123-decoder',
        'ogg-opus-decoder',
        'opus-decoder',
      ],
      banner: {
        js: "import { createRequire as makeRequire } from 'node:module'; const require = makeRequire(import.meta.url);",
      },
      platform: 'node',
      format: 'esm',
      target: 'node20',
      logLevel: 'warning',
    });
    mkdirSync(out, { recursive: true });
    for (const { path, contents } of outputFiles) put(path, contents);
    removeOld(new Set(outputFiles.map(({ path }) => basename(path))));
    put(stamp, wanted);
  }
  return `${out}/main.mjs`;
}

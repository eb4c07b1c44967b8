// Bundles the command line, so that it and its workers start at once. A fraction of a second, and only after a change.
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
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

/**
 * @param more further programs to be bundled beside it, by name
 * @returns the path of the program
 */
export async function buildCli(more = {}) {
  const sources = ['bench', 'cli', 'codecs', 'core', 'documents', 'server'].map((name) =>
    newest(root + name),
  );
  const wanted = [...sources, statSync(`${root}package-lock.json`).mtimeMs, ...Object.keys(more)].join();
  if (!existsSync(stamp) || readFileSync(stamp, 'utf8') !== wanted) {
    const { build } = await import('esbuild');
    await build({
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
    writeFileSync(stamp, wanted);
  }
  return `${out}/main.mjs`;
}

// Puts the worker among the served files that holds a copy of the product in the browser: it names all files of one build.
import { createHash } from 'node:crypto';
import { readFileSync, writeFileSync } from 'node:fs';
import { root } from './install.mjs';
import { walk } from './walk.mjs';

/** Served as they are, with no hash in their names; the sound of the demo is brought in by those who open it. */
const PUBLIC = ['fonts', 'voice'];

const hashOf = (path) => createHash('sha256').update(readFileSync(path)).digest('hex').slice(0, 16);

export async function buildServiceWorker() {
  const build = readFileSync(`${root}.next/BUILD_ID`, 'utf8').trim();
  const built = [...walk(`${root}.next/static`)]
    .filter((path) => !path.endsWith('.map'))
    .map((path) => ({ url: `/_next${path.slice(`${root}.next`.length)}`, revision: null }));
  const served = PUBLIC.flatMap((folder) => [...walk(`${root}public/${folder}`)]).map((path) => ({
    url: path.slice(`${root}public`.length),
    revision: hashOf(path),
  }));
  const esbuild = await import('esbuild');
  const { outputFiles } = await esbuild.build({
    entryPoints: [`${root}interface/offline/serviceWorker.ts`],
    bundle: true,
    minify: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    define: {
      'self.__BUILD': JSON.stringify(build),
      'self.__FILES': JSON.stringify([...served, ...built]),
      'process.env.NODE_ENV': '"production"',
    },
  });
  writeFileSync(`${root}public/serviceWorker.js`, outputFiles[0].contents);
}

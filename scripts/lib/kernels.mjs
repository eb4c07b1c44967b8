// Compiles core/kernels/assembly (AssemblyScript) to WebAssembly and writes it as a module that every place can import:
// browser, worker and Node. A few seconds, and only when its sources have changed.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fail, root, run } from './install.mjs';

const sources = `${root}core/kernels/assembly`;
const folder = `${root}core/kernels/generated`;
const target = `${folder}/wasm.ts`;
const FLAGS = ['-O3', '--converge', '--enable', 'simd', '--runtime', 'stub', '--disableWarning', '112'];

function fingerprint() {
  const hash = createHash('sha256').update(FLAGS.join());
  for (const name of readdirSync(sources).sort()) hash.update(name).update(readFileSync(join(sources, name)));
  hash.update(readFileSync(`${root}node_modules/assemblyscript/package.json`));
  return hash.digest('hex');
}

export function buildKernels() {
  const mark = `// ${fingerprint()}`;
  if (existsSync(target) && readFileSync(target, 'utf8').startsWith(mark)) return;
  console.error('Compiling the measuring kernels …');
  const out = join(tmpdir(), `dengung-kernels-${process.pid}.wasm`);
  const { status } = run(process.execPath, [
    'node_modules/assemblyscript/bin/asc.js',
    'core/kernels/assembly/index.ts',
    ...FLAGS,
    '-o',
    out,
  ]);
  if (status !== 0) fail('The measuring kernels could not be compiled (see above).');
  mkdirSync(folder, { recursive: true });
  const base64 = readFileSync(out).toString('base64');
  rmSync(out);
  writeFileSync(
    target,
    `${mark}\n/** core/kernels/assembly, compiled by scripts/lib/kernels.mjs. */\nexport const WASM_BASE64 =\n  '${base64}';\n`,
  );
}

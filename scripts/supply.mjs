// What ships with the product: npm run supply [-- --out FOLDER]. Writes docs/licences.md, and sbom.cdx.json (CycloneDX 1.5) into the folder
// (.cache otherwise); asks the registry for advisories, where it answers such questions.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { spawnSync } from 'node:child_process';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { fail, root } from './lib/install.mjs';
import { licencesPage } from './lib/supply.mjs';

const { values } = parseArgs({ options: { out: { type: 'string' } } });
const folder = values.out === undefined ? `${root}.cache` : resolve(process.env.INIT_CWD ?? '.', values.out);
const npm = (...args) => spawnSync('npm', args, { cwd: root, encoding: 'utf8', maxBuffer: 1 << 28 });

const lock = JSON.parse(readFileSync(`${root}package-lock.json`, 'utf8'));
writeFileSync(`${root}docs/licences.md`, licencesPage(lock));
console.log('docs/licences.md');

const sbom = npm('sbom', '--sbom-format=cyclonedx', '--omit=dev', '--package-lock-only');
if (sbom.status !== 0) fail(`The list of what ships could not be made: ${sbom.stderr}`);
const { components } = JSON.parse(sbom.stdout);
mkdirSync(folder, { recursive: true });
const path = join(folder, 'sbom.cdx.json');
writeFileSync(path, sbom.stdout);
console.log(`${path}: ${components.length} components`);

const audit = npm('audit', '--omit=dev');
if (/audit endpoint returned an error|ENOTFOUND|ECONNREFUSED/.test(audit.stderr))
  console.log('Advisories: the registry in use does not answer such questions; run this where it does.');
else {
  console.log(audit.stdout.trim());
  process.exit(audit.status ?? 1);
}

import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { INSTALL_SCRIPTS, LICENCES, licencesPage, packagesOf } from './lib/supply.mjs';

const lock: unknown = JSON.parse(readFileSync('package-lock.json', 'utf8'));
const packages = packagesOf(lock);

describe('what ships', () => {
  it('has licences that were looked at, and the list of them is up to date (npm run supply)', () => {
    const ships = packages.filter((one) => one.ships);
    expect(ships.length).toBeGreaterThan(100);
    expect(ships.filter(({ licence }) => !LICENCES.includes(licence))).toEqual([]);
    const rows = (page: string): string[] =>
      page.split('\n').flatMap((line) => (line.startsWith('| `') ? line.replace(/\s+/g, ' ') : []));
    expect(rows(readFileSync('docs/licences.md', 'utf8'))).toEqual(rows(licencesPage(lock)));
  });

  it('runs nothing as it is installed but what is named, with the reason', () => {
    const runs = packages.filter((one) => one.runs && !one.optional).map(({ name }) => name);
    expect(runs.filter((name) => !(name in INSTALL_SCRIPTS))).toEqual([]);
  });

  it('comes from the registry, each package with its checksum', () => {
    const { packages: all } = lock as {
      packages: Record<string, { resolved?: string; integrity?: string; bundled?: true; inBundle?: true }>;
    };
    const odd = Object.entries(all).filter(
      ([path, { resolved, integrity, inBundle }]) =>
        path !== '' &&
        !inBundle &&
        (!integrity || (resolved !== undefined && !resolved.startsWith('https://registry.npmjs.org/'))),
    );
    expect(odd.map(([path]) => path)).toEqual([]);
  });
});

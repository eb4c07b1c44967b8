// What ships with the product: packages, their licences, and those that run something as they are installed.

/** Licences that what ships may have. Those of a weak copyleft are used as modules of their own: docs/third-party.md. */
export const LICENCES = [
  ...[
    'MIT',
    'ISC',
    '0BSD',
    'BSD-2-Clause',
    'BSD-3-Clause',
    'Apache-2.0',
    'OFL-1.1',
    'Python-2.0',
    'CC-BY-4.0',
  ],
  ...['MPL-2.0', 'LGPL-3.0-or-later', '(MIT AND Zlib)', '(MIT OR CC0-1.0)', 'MIT AND ISC AND BSD-3-Clause'],
  ...['Apache-2.0 AND LGPL-3.0-or-later', 'Apache-2.0 AND LGPL-3.0-or-later AND MIT'],
];

/** Packages that run a script as they are installed, and why that is let be. */
export const INSTALL_SCRIPTS = {
  esbuild: 'checks that the program for this machine, which comes as a package, can be run',
  protobufjs: 'says when its version does not fit that of a package beside it; changes nothing',
};

const nameIn = (path) => path.slice(path.lastIndexOf('node_modules/') + 'node_modules/'.length);

/** All packages of a lock file. @returns by path; `ships` where the product needs it to run */
export function packagesOf(lock) {
  return Object.entries(lock.packages)
    .filter(([path]) => path !== '')
    .map(([path, one]) => ({
      ...{ name: nameIn(path), version: one.version, licence: one.license ?? 'none' },
      ...{
        ships: !one.dev && !one.devOptional,
        optional: one.optional === true,
        runs: one.hasInstallScript === true,
      },
    }));
}

/** The list of licences as a page. */
export function licencesPage(lock) {
  const rows = new Map();
  for (const { name, version, licence, ships } of packagesOf(lock)) {
    if (ships) rows.set(`${name} ${version}`, `| \`${name}\` | ${version} | ${licence} |`);
  }
  const sorted = [...rows].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, row]) => row);
  return `# Licences of what ships\n\nMade from \`package-lock.json\` by \`npm run supply\`; what lies inside of packages: [third-party.md](third-party.md).\n\n| Package | Version | Licence |\n| --- | --- | --- |\n${sorted.join('\n')}\n`;
}

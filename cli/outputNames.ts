import { basename, dirname, extname, join, relative, sep } from 'node:path';
import { absolute } from './files';

const stem = (file: string): string => basename(file, extname(file));

/** The folder that all of these lie in. */
function commonFolder(paths: readonly string[]): string {
  const [first = '', ...others] = paths.map((path) => dirname(path).split(sep));
  let shared = [...first];
  for (const parts of others) {
    let length = 0;
    while (length < shared.length && parts[length] === shared[length]) length++;
    shared = shared.slice(0, length);
  }
  return shared.join(sep) || sep;
}

/** The names that more than one of these has, capitals aside. */
function taken(names: Iterable<string>): ReadonlySet<string> {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name.toLowerCase(), (counts.get(name.toLowerCase()) ?? 0) + 1);
  return new Set([...counts].filter(([, count]) => count > 1).map(([name]) => name));
}

/**
 * Where files go that are written again as WAV into one folder. Those that would have the same name keep the folders
 * that tell them apart, and where even that is not enough their endings.
 * @returns paths by file
 */
export function outputNames(files: readonly string[], folder: string): Map<string, string> {
  const names = new Map(files.map((file) => [file, `${stem(file)}.wav`]));
  const rename = (to: (file: string) => string): void => {
    const clashing = taken(names.values());
    for (const [file, name] of names) if (clashing.has(name.toLowerCase())) names.set(file, to(file));
  };
  const common = commonFolder(files.map(absolute));
  const inside = (file: string): string => relative(common, dirname(absolute(file)));
  rename((file) => join(inside(file), `${stem(file)}.wav`));
  rename((file) => join(inside(file), `${basename(file)}.wav`));
  return new Map([...names].map(([file, name]) => [file, join(folder, name)]));
}

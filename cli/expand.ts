import { stat } from 'node:fs/promises';
import { glob, isDynamicPattern } from 'tinyglobby';
import { absolute, FileError } from './files';
import { osPath } from './names';
import { SOUND_ENDINGS, soundIn } from './walk';

/** One thing to be measured, or why it cannot. */
export type Named = { readonly file: string } | { readonly file: string; readonly error: FileError };

const isFolder = async (path: string): Promise<boolean | null> =>
  stat(osPath(path)).then(
    (info) => info.isDirectory(),
    () => null,
  );

async function matching(pattern: string): Promise<string[]> {
  const cwd = absolute('.');
  const found = await glob(pattern, {
    cwd,
    onlyFiles: true,
    caseSensitiveMatch: false,
    expandDirectories: false,
  });
  return found.sort();
}

async function expandOne(name: string): Promise<Named[]> {
  const folder = await isFolder(absolute(name));
  if (folder === false) return [{ file: name }];
  if (folder) {
    const { files, skipped } = await soundIn(name, false);
    if (files.length + skipped.length > 0) return [...files.map((file) => ({ file })), ...skipped];
    const error = new FileError(
      'noSoundInFolder',
      'There is no sound in this folder.',
      `Looked for: ${SOUND_ENDINGS}.`,
    );
    return [{ file: name, error }];
  }
  if (!isDynamicPattern(name)) return [{ file: name }];
  const found = await matching(name);
  if (found.length > 0) return found.map((file) => ({ file }));
  return [
    { file: name, error: new FileError('notFound', 'No file matches this pattern.', 'Check the pattern.') },
  ];
}

/** Files, all sound in folders, and what patterns match (those the shell left alone), each once, in order. */
export async function expand(names: readonly string[]): Promise<Named[]> {
  const all = (await Promise.all(names.map(expandOne))).flat();
  const seen = new Set<string>();
  return all.filter(({ file }) => seen.size < seen.add(absolute(file)).size);
}

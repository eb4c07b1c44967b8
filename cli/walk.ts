import { readdir, realpath, stat } from 'node:fs/promises';
import { join, relative, sep } from 'node:path';
import { absolute, FileError, trouble } from './files';
import { nameOf, osPath } from './names';

/** What is taken for sound in a folder; a file that is named is tried whatever its name. */
export const SOUND_ENDINGS =
  'wav,wave,rf64,bw64,aif,aiff,aifc,caf,flac,mp3,ogg,oga,opus,aac,m4a,mp4,mov,mkv,mka,webm,ts,m2ts,mts';

const SOUND = new RegExp(`\\.(${SOUND_ENDINGS.replaceAll(',', '|')})$`, 'i');

/** What was found in a folder. */
export interface Walked {
  /** From where the user stands, in order of their names. */
  readonly files: readonly string[];
  /** Folders and links that could not be looked into, or were not followed. */
  readonly skipped: readonly { readonly file: string; readonly error: FileError }[];
}

const within = (folder: string, path: string): boolean =>
  path === folder || path.startsWith(folder.endsWith(sep) ? folder : folder + sep);

const realOf = async (path: string): Promise<string> =>
  nameOf(await realpath(osPath(path), { encoding: 'buffer' }));

/**
 * All sound in a folder and the folders in it.
 * @param stayInside links that lead out of the folder are not followed, and said
 */
export async function soundIn(named: string, stayInside: boolean): Promise<Walked> {
  const from = absolute('.');
  const top = absolute(named);
  const root = await realOf(top);
  const files: string[] = [];
  const skipped: { file: string; error: FileError }[] = [];
  /** Folders that are being walked: a link back to one of them would never end. */
  const above = new Set<string>();

  const shownPath = (path: string): string => {
    const inside = relative(from, path);
    return inside === '' || inside.startsWith(`..${sep}..${sep}..`) ? path : inside;
  };
  const skip = (path: string, error: unknown): void => {
    const { code, message, hint } = trouble(error);
    skipped.push({ file: shownPath(path), error: new FileError(code, message, hint) });
  };

  const visit = async (folder: string): Promise<void> => {
    const real = await realOf(folder);
    if (above.has(real)) return;
    above.add(real);
    const entries = await readdir(osPath(folder), { withFileTypes: true, encoding: 'buffer' });
    const named = entries.map((entry) => ({ entry, name: nameOf(entry.name as unknown as Buffer) }));
    for (const { entry, name } of named.sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const path = join(folder, name);
      try {
        let isFolder = entry.isDirectory();
        let isFile = entry.isFile();
        if (entry.isSymbolicLink()) {
          if (!SOUND.test(name) && !(await stat(osPath(path))).isDirectory()) continue;
          if (stayInside && !within(root, await realOf(path)))
            throw new FileError(
              'leadsOutside',
              'This link leads out of the folder; it was not followed.',
              'Copy what it leads to into the folder.',
            );
          const target = await stat(osPath(path));
          isFolder = target.isDirectory();
          isFile = target.isFile();
        }
        if (isFolder) await visit(path);
        else if (isFile && SOUND.test(name)) files.push(shownPath(path));
      } catch (error) {
        skip(path, error);
      }
    }
    above.delete(real);
  };
  await visit(top);
  return { files, skipped };
}

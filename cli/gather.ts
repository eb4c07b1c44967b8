import { createReadStream } from 'node:fs';
import type { Source } from '@/core/programme/model';
import type { Cut } from '@/core/timeline/cut';
import { matchMedia, shortestNames, type MediaFile } from '@/core/timeline/matchMedia';
import { absolute, trouble } from './files';
import { hashOf } from './hashOf';
import type { MediaShelf } from './media';
import { osPath } from './names';
import { shown } from './say';
import { soundIn, type Walked } from './walk';

/** The media of a cut, as far as they are in a folder. */
export interface Gathered {
  /** By `mediaKey`. */
  readonly media: ReadonlyMap<string, Source>;
  /** Media that several files could be: none of them is taken. */
  readonly unsure: readonly {
    readonly key: string;
    readonly name: string;
    readonly files: readonly string[];
  }[];
  /** What could not be read or was not followed, and what is wrong with what was read. */
  readonly warnings: readonly string[];
}

const NOTHING: Walked = { files: [], skipped: [] };

/** All sound in the media folder; none when there is no such folder. Links that lead out of it are not followed. */
export const mediaIn = (folder: string): Promise<Walked> =>
  soundIn(folder, true).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return NOTHING;
    throw error;
  });

/** SHA-256 of a file, in hexadecimal. */
export async function contentOf(file: string): Promise<string> {
  return (await hashOf(createReadStream(osPath(absolute(file))))).sha256;
}

/** Finds and opens the media that a cut names; files are looked into only where their names do not decide. */
export async function gather(cut: Cut, { files, skipped }: Walked, shelf: MediaShelf): Promise<Gathered> {
  const warnings = skipped.map(({ file, error }) => `${shown(file)}: ${error.message} ${error.hint}`);
  const opened = new Map<number, Source | null>();
  const open = async (index: number): Promise<Source | null> => {
    const known = opened.get(index);
    if (known !== undefined) return known;
    const source = await shelf.add(files[index]!).catch((error: unknown) => {
      const { message, hint } = trouble(error);
      warnings.push(`${shown(files[index]!)}: ${message} ${hint}`);
      return null;
    });
    opened.set(index, source);
    return source;
  };
  const facts: MediaFile[] = files.map((path) => ({ path, sound: null, content: null }));
  let matched = matchMedia(cut, facts);
  // First by what the files are, then by what is in them.
  for (const look of [
    async (index: number) => ({ sound: await open(index) }),
    async (index: number) => ({ content: await contentOf(files[index]!) }),
  ]) {
    if (matched.unsure.size === 0) break;
    for (const index of new Set([...matched.unsure.values()].flat()))
      facts[index] = { ...facts[index]!, ...(await look(index)) };
    matched = matchMedia(cut, facts);
  }
  const media = new Map<string, Source>();
  for (const [key, index] of matched.found) {
    const source = await open(index);
    if (source) media.set(key, source);
  }
  const names = shortestNames(cut);
  const unsure = [...matched.unsure].map(([key, indices]) => ({
    key,
    name: names.get(key)!,
    files: indices.map((index) => files[index]!),
  }));
  for (const source of new Set(media.values()))
    warnings.push(...source.warnings.map((warning) => `${shown(source.id)}: ${warning}`));
  return { media, unsure, warnings };
}

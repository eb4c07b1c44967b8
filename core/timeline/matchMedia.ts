import type { Source } from '@/core/programme/model';
import { mediaKey, type Cut, type CutClip, type MediaReference } from './cut';
import { holdsAll, isAsLong, statedLengths, statedRates } from './relink';

/** A file that may be the medium of a clip. */
export interface MediaFile {
  /** Its name, after the folders it lies in as far as they are known. */
  readonly path: string;
  /** `null` when it has not been looked into. */
  readonly sound: Pick<Source, 'frames' | 'sampleRate' | 'timeReference'> | null;
  /** Files with the same word here hold the same; `null` when that is not known. */
  readonly content: string | null;
}

/** What was found for the media of a cut, by `mediaKey`. Media that are in neither were not found. */
export interface MatchedMedia {
  /** Index of the file. */
  readonly found: ReadonlyMap<string, number>;
  /** Indices of the files among which nothing decides. */
  readonly unsure: ReadonlyMap<string, readonly number[]>;
}

const decoded = (text: string): string => {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
};

/** Folders and name of a path or of a URL. */
const partsOf = (path: string): string[] => path.split(/[/\\]/).filter((part) => part !== '' && part !== '.');

/** Folders and name of a medium as the cut has them. */
function partsOfMedia({ url, name }: MediaReference): string[] {
  const parts = url === null ? [] : partsOf(url.replace(/^[a-z][a-z0-9+.-]*:\/\/[^/]*/i, '')).map(decoded);
  return parts.length > 0 ? parts : [name];
}

const lower = (text: string): string => text.toLowerCase();
const stem = (name: string): string => lower(name.replace(/\.[^.]+$/, ''));

/** How many parts two paths share from their ends, capitals aside; their names are taken to agree. */
function agreement(a: readonly string[], b: readonly string[]): number {
  let shared = 1;
  while (shared < Math.min(a.length, b.length) && lower(a.at(-1 - shared)!) === lower(b.at(-1 - shared)!))
    shared++;
  return shared;
}

/** Those that pass a test, or all when none does. */
const preferring = <T>(all: readonly T[], test: (one: T) => boolean): readonly T[] => {
  const passing = all.filter(test);
  return passing.length > 0 ? passing : all;
};

/** The clips of a cut by the medium they use. */
function clipsByMedium(cut: Cut): Map<string, CutClip[]> {
  const byKey = new Map<string, CutClip[]>();
  for (const { clips } of cut.tracks)
    for (const clip of clips) {
      const key = mediaKey(clip.media);
      const others = byKey.get(key);
      if (others) others.push(clip);
      else byKey.set(key, [clip]);
    }
  return byKey;
}

/**
 * Finds the file of each medium of a cut: of those with its name (else with its name but for the ending) the ones whose
 * folders agree furthest; of several the ones as long as the cut says, that hold all that is used of it, and have its
 * rate; of several that hold the same the first. What is still not decided is not guessed.
 */
export function matchMedia(cut: Cut, files: readonly MediaFile[]): MatchedMedia {
  const paths = files.map(({ path }) => partsOf(path));
  const whole = new Map<string, number[]>();
  const stems = new Map<string, number[]>();
  const add = (map: Map<string, number[]>, name: string, index: number): void => {
    const others = map.get(name);
    if (others) others.push(index);
    else map.set(name, [index]);
  };
  paths.forEach((parts, index) => {
    add(whole, lower(parts.at(-1) ?? ''), index);
    add(stems, stem(parts.at(-1) ?? ''), index);
  });
  const found = new Map<string, number>();
  const unsure = new Map<string, readonly number[]>();
  for (const [key, clips] of clipsByMedium(cut)) {
    const { media } = clips[0]!;
    const wanted = partsOfMedia(media);
    const names = [...new Set([wanted.at(-1)!, media.name])];
    const named = names.map((name) => whole.get(lower(name))).find(Boolean);
    const all = named ?? names.map((name) => stems.get(stem(name))).find(Boolean) ?? [];
    const agreeing = all.map((index) => agreement(wanted, paths[index]!));
    const furthest = agreeing.reduce((a, b) => Math.max(a, b), 0);
    let left: readonly number[] = all.filter((_, i) => agreeing[i] === furthest);
    if (left.length > 1) left = decide(left, clips, names, files, paths);
    if (left.length === 1) found.set(key, left[0]!);
    else if (left.length > 1) unsure.set(key, left);
  }
  return { found, unsure };
}

function decide(
  candidates: readonly number[],
  clips: readonly CutClip[],
  names: readonly string[],
  files: readonly MediaFile[],
  paths: readonly string[][],
): readonly number[] {
  const rates = statedRates(clips);
  const lengths = statedLengths(clips);
  let left = preferring(candidates, (index) => names.includes(paths[index]!.at(-1)!));
  const sound = (index: number): MediaFile['sound'] => files[index]!.sound;
  // As long as one of them has not been looked into, nothing is known of which fits best.
  if (left.every((index) => sound(index) !== null)) {
    left = preferring(left, (index) => isAsLong(sound(index)!, lengths));
    left = preferring(left, (index) => holdsAll(sound(index)!, clips));
    left = preferring(left, (index) => rates.includes(sound(index)!.sampleRate));
  }
  const { content } = files[left[0]!]!;
  return content !== null && left.every((index) => files[index]!.content === content)
    ? left.slice(0, 1)
    : left;
}

/** The media of a cut for people, by `mediaKey`: their names, with the folders where a name alone is not enough. */
export function shortestNames(cut: Cut): Map<string, string> {
  const keys = [...clipsByMedium(cut)].map(([key, clips]) => ({ key, media: clips[0]!.media }));
  const counts = new Map<string, number>();
  for (const { media } of keys) counts.set(media.name, (counts.get(media.name) ?? 0) + 1);
  return new Map(
    keys.map(({ key, media }) => [
      key,
      counts.get(media.name)! > 1 ? partsOfMedia(media).join('/') : media.name,
    ]),
  );
}

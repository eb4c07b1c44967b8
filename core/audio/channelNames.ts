/** How names of mono files say which channel they are, in the order of channels of common layouts. */
const ENDINGS: readonly (readonly string[])[] = [
  ['l', 'left'],
  ['r', 'right'],
  ['c', 'centre', 'center'],
  ['lfe', 'sub'],
  ['ls', 'lss', 'sl'],
  ['rs', 'rss', 'sr'],
  ['lb', 'lrs', 'bl', 'lsr'],
  ['rb', 'rrs', 'br', 'rsr'],
];

const stem = (name: string): string => name.replace(/\.[^.]+$/, '');

function rank(name: string): number {
  const ending = /[^a-z0-9]([a-z]+)$/i.exec(stem(name))?.[1]?.toLowerCase();
  return ENDINGS.findIndex((endings) => endings.includes(ending ?? ''));
}

/** Files in the order of channels that their names end in (“.L”, “_Rs”); as they stand when not all of them say. */
export function inChannelOrder<T extends { readonly name: string }>(files: readonly T[]): T[] {
  const ranks = files.map((file) => rank(file.name));
  if (ranks.includes(-1) || new Set(ranks).size < ranks.length) return [...files];
  return [...files].sort((a, b) => rank(a.name) - rank(b.name));
}

/** What the names of several files have in common, to name them together. */
export function commonName(names: readonly string[]): string {
  const [first = '', ...others] = names.map(stem);
  let length = first.length;
  for (const other of others) while (!other.startsWith(first.slice(0, length))) length--;
  return first.slice(0, length).replace(/[^\p{L}\p{N})\]]+$/u, '') || first;
}

import { readdirSync, lstatSync } from 'node:fs';
import { sep } from 'node:path';

/**
 * File names on a disk are bytes, not text. A byte that is no UTF-8 is carried as a lone surrogate (U+DC80 to U+DCFF),
 * so that any name can be held as a string and turned back into its bytes.
 */
const ESCAPED = /[\udc80-\udcff]/;
const LOWEST = 0xdc00;

const strict = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });

const isText = (bytes: Uint8Array): boolean => {
  try {
    strict.decode(bytes);
    return true;
  } catch {
    return false;
  }
};

/** How many bytes the character that begins at `at` takes; 0 when none does. */
function characterLength(bytes: Uint8Array, at: number): number {
  for (let length = 1; length <= 4 && at + length <= bytes.length; length++)
    if (isText(bytes.subarray(at, at + length))) return length;
  return 0;
}

/** A name as the disk has it, as a string. */
export function nameOf(bytes: Buffer): string {
  if (isText(bytes)) return bytes.toString('utf8');
  let name = '';
  for (let at = 0; at < bytes.length;) {
    const length = characterLength(bytes, at);
    name += length > 0 ? bytes.toString('utf8', at, at + length) : String.fromCharCode(LOWEST + bytes[at]!);
    at += Math.max(1, length);
  }
  return name;
}

/** A path as the operating system takes it. */
export function osPath(path: string): string | Buffer {
  if (!ESCAPED.test(path)) return path;
  const parts = [...path].map((char) => {
    const code = char.charCodeAt(0);
    return ESCAPED.test(char) ? Buffer.from([code - LOWEST]) : Buffer.from(char, 'utf8');
  });
  return Buffer.concat(parts);
}

const exists = (path: string): boolean => {
  try {
    lstatSync(osPath(path));
    return true;
  } catch {
    return false;
  }
};

/**
 * A path that was typed. Names that are no UTF-8 reach the program with U+FFFD in place of what could not be read; such
 * a name is looked for in its folder, and taken where only one fits.
 * @param path absolute
 */
export function typedPath(path: string): string {
  if (!path.includes('\ufffd') || exists(path)) return path;
  let found = '';
  for (const part of path.split(sep)) {
    let name = part;
    if (part.includes('\ufffd') && !exists(found + part)) {
      const fitting = namesIn(found || sep).filter(
        (other) => Buffer.from(osPath(other)).toString('utf8') === part,
      );
      if (fitting.length === 1) name = fitting[0]!;
    }
    found += name + sep;
  }
  return found.slice(0, -1);
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(osPath(folder), 'buffer').map(nameOf);
  } catch {
    return [];
  }
}

import type { Passthrough } from '@/core/programme/model';

/** Deeper than this, foreign data are stored as text: what copies data between workers and into storage ends somewhere. */
const DEEPEST = 48;

/** Under this name stands, as JSON, what was too deep. */
const AS_TEXT = 'dengung_as_text';

const isDeeper = (value: unknown, levels: number): boolean =>
  typeof value === 'object' &&
  value !== null &&
  (levels === 0 || Object.values(value).some((inner) => isDeeper(inner, levels - 1)));

/** One object or list that is being written. */
interface Open {
  readonly entries: readonly (readonly [key: string, value: unknown])[];
  readonly isList: boolean;
  next: number;
}

/** Data as JSON, however deep they are: the engine's own writer gives up after some thousands of levels. */
function jsonOf(value: unknown): string {
  const parts: string[] = [];
  const open: Open[] = [];
  const write = (inner: unknown): void => {
    if (typeof inner !== 'object' || inner === null) {
      parts.push(JSON.stringify(inner));
      return;
    }
    const isList = Array.isArray(inner);
    parts.push(isList ? '[' : '{');
    open.push({ entries: Object.entries(inner), isList, next: 0 });
  };
  write(value);
  for (let last = open.at(-1); last; last = open.at(-1)) {
    const entry = last.entries[last.next++];
    if (!entry) {
      parts.push(last.isList ? ']' : '}');
      open.pop();
      continue;
    }
    if (last.next > 1) parts.push(',');
    if (!last.isList) parts.push(`${JSON.stringify(entry[0])}:`);
    write(entry[1]);
  }
  return parts.join('');
}

function cutOff(value: unknown, levels: number): unknown {
  if (typeof value !== 'object' || value === null) return value;
  if (levels === 0) return { [AS_TEXT]: jsonOf(value) };
  if (Array.isArray(value)) return value.map((inner) => cutOff(inner, levels - 1));
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, cutOff(inner, levels - 1)]));
}

/** What a file said besides, such that it can be stored however deep it is nested. */
export const bearable = (passthrough: Passthrough): Passthrough =>
  isDeeper(passthrough, DEEPEST) ? (cutOff(passthrough, DEEPEST) as Passthrough) : passthrough;

/** Where a string of JSON ends that begins at `from`: behind its closing quote. */
function stringEnd(text: string, from: number): number {
  let at = from + 1;
  while (at < text.length && text[at] !== '"') at += text[at] === '\\' ? 2 : 1;
  return at + 1;
}

const isJson = (text: string): boolean => {
  try {
    JSON.parse(text);
    return true;
  } catch {
    return false;
  }
};

/** Puts what was stored as text back in its place. @param json as it is to be written, with the texts in it */
export function asItWas(json: string): string {
  const opening = `"${AS_TEXT}":`;
  const parts: string[] = [];
  let done = 0;
  for (let at = json.indexOf(opening); at >= 0; at = json.indexOf(opening, at + 1)) {
    const before = json.lastIndexOf('{', at);
    const quote = json.indexOf('"', at + opening.length);
    const end = stringEnd(json, quote);
    const after = json.indexOf('}', end);
    const alone = json.slice(before + 1, at).trim() === '' && json.slice(end, after).trim() === '';
    if (before < done || quote < 0 || after < 0 || !alone) continue;
    const text = JSON.parse(json.slice(quote, end)) as string;
    if (!isJson(text)) continue;
    parts.push(json.slice(done, before), text);
    done = after + 1;
  }
  return parts.join('') + json.slice(done);
}

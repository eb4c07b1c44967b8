import type { History } from '@/core/programme/history';

/**
 * A project with its history as it lies in storage: text. Values are handed to the browser as a copy, made while the page
 * stands still: of text that is nearly nothing, and most of it is the same as the last time.
 */
export interface StoredProject {
  readonly project: string;
  readonly past: readonly string[];
  readonly future: readonly string[];
}

/** What was written of records and steps before: they never change. */
const texts = new WeakMap<object, string>();

function textOf(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const known = texts.get(value);
  if (known !== undefined) return known;
  const text = JSON.stringify(value);
  texts.set(value, text);
  return text;
}

/** A history as it is stored: of records and steps that were stored before, the text is taken again. */
export function toStored({ project, past, future }: History): StoredProject {
  const fields = Object.entries(project).flatMap(([key, value]: [string, unknown]) => {
    if (value === undefined) return [];
    const text = Array.isArray(value) ? `[${value.map(textOf).join(',')}]` : JSON.stringify(value);
    return [`${JSON.stringify(key)}:${text}`];
  });
  return { project: `{${fields.join(',')}}`, past: past.map(textOf), future: future.map(textOf) };
}

const read = (text: unknown): unknown => (typeof text === 'string' ? (JSON.parse(text) as unknown) : text);

/**
 * What is stored of a project, as values; what earlier versions stored is that already.
 * @returns what cannot be read as it is, for whoever checks it to refuse
 */
export function fromStored(stored: unknown): unknown {
  if (typeof stored !== 'object' || stored === null || Array.isArray(stored)) return stored;
  const { project, past, future } = stored as Readonly<Record<string, unknown>>;
  const steps = (list: unknown): unknown => {
    try {
      return Array.isArray(list) ? list.map(read) : list;
    } catch {
      return null;
    }
  };
  try {
    return { ...stored, project: read(project), past: steps(past), future: steps(future) };
  } catch {
    return stored;
  }
}

// Within text, quotes have a backslash before them.
const AUDIO_KEY = /\\?"audioKey\\?":\\?"([^"\\]+)/g;

/** Names of the sounds that what is stored of a project names, in its present state or in a step, readable or not. */
export const soundsIn = (stored: unknown): readonly string[] =>
  [...JSON.stringify(stored).matchAll(AUDIO_KEY)].map(([, key]) => key!);

import { safeName } from '@/core/text/safeName';

/** What can stand in braces in the names of delivered files. */
export const NAME_FIELDS = [
  'project',
  'target',
  'role',
  'track',
  'marker',
  'number',
  'language',
  'date',
  'version',
  'layout',
  'rate',
] as const;
type NameField = (typeof NAME_FIELDS)[number];

/** What stands in the place of each field; left out where there is nothing of the kind. */
export type NameValues = Readonly<Partial<Record<NameField, string | undefined>>>;

const FIELD = /\{([^{}]*)\}/g;

const isField = (name: string): name is NameField => (NAME_FIELDS as readonly string[]).includes(name);

/** The fields that a pattern has. */
const fieldsOf = (pattern: string): readonly string[] =>
  [...pattern.matchAll(FIELD)].map(([, name]) => name!);

/** What is wrong with a pattern, a sentence; `null` when nothing is. */
export function patternFault(pattern: string): string | null {
  if (pattern.trim() === '') return 'Give the files a name, for instance {project} {target}.';
  const unknown = fieldsOf(pattern).find((name) => !isField(name));
  if (unknown !== undefined)
    return `{${unknown}} is no field. There are: ${NAME_FIELDS.map((name) => `{${name}}`).join(', ')}.`;
  if (/[{}]/.test(pattern.replace(FIELD, ''))) return 'A brace is left open, or closes nothing.';
  return null;
}

/** A name by a pattern, without its ending; a field that has no value leaves nothing behind, nor the dash or space before it. */
export const nameBy = (pattern: string, values: NameValues): string =>
  safeName(
    pattern.replace(/([ _.-]*)\{([^{}]*)\}/g, (_, before: string, name: string) => {
      const value = isField(name) ? (values[name] ?? '') : '';
      return value === '' ? '' : before + value;
    }),
  );

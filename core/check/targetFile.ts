import { array, object, string, ValidationError } from 'yup';
import { ANCHORS, storedTargetSchema } from './schema';
import type { Target } from './target';
import { FORM_FIELDS, TARGET_FIELDS } from './targetFields';

/** Says what a file of targets is, and which version of it this is. */
const FORMAT = 'dengung-targets-1';

const schema = object({
  format: string().required().oneOf([FORMAT], `format is ${FORMAT}`),
  targets: array()
    .of(storedTargetSchema)
    .required()
    .min(1, 'there is no target in it')
    .max(200, 'there are more than 200 targets in it'),
});

/** Targets as the text of a file. */
export const writeTargets = (targets: readonly Target[]): string =>
  `${JSON.stringify({ format: FORMAT, targets }, null, 2)}\n`;

/** Reads a file of targets. @returns at least one, or a sentence that says what is wrong with it */
export function readTargets(text: string): readonly Target[] | { readonly error: string } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return { error: 'These are not targets: it is not JSON.' };
  }
  try {
    const { targets } = schema.validateSync(json, { strict: true });
    const ids = targets.map(({ id }) => id);
    const twice = ids.find((id, i) => ids.indexOf(id) !== i);
    if (twice !== undefined) return { error: `These are not targets: “${twice}” is there twice.` };
    return targets as unknown as readonly Target[];
  } catch (error) {
    if (error instanceof ValidationError) return { error: `These are not targets: ${error.message}.` };
    throw error;
  }
}

/**
 * Targets out of a file as they can stand beside those that are known: one that is known already, the same in all it says, is
 * left out; where only its id is taken it gets another.
 */
export function besideKnown(
  read: readonly Target[],
  known: readonly Target[],
  newId: () => string,
): readonly Target[] {
  const byId = new Map(known.map((target) => [target.id, target]));
  return read.flatMap((target): Target[] => {
    const there = byId.get(target.id);
    if (!there) return [target];
    return JSON.stringify(there) === JSON.stringify(target) ? [] : [{ ...target, id: newId() }];
  });
}

/** What a file of targets holds, line by line, read off the fields that check it. */
export const targetFileLines = (): readonly string[] => [
  `format: ${JSON.stringify(FORMAT)}`,
  'targets: a list of objects with',
  '  id, name, source: texts; source says where the figures come from',
  `  anchor: ${ANCHORS.map((anchor) => JSON.stringify(anchor)).join(' or ')}; whose loudness counts, or left out`,
  ...TARGET_FIELDS.map(
    ({ key, label, unit, min, max, required }) =>
      `  ${key}: number from ${min} to ${max}${required ? '' : ' or null'}; ${label.toLowerCase()}, ${unit}`,
  ),
  ...FORM_FIELDS.map(({ key, label }) => `  ${key}: a list, or left out; ${label.toLowerCase()}`),
];

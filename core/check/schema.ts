import { array, number, object, string, ValidationError, type AnyObjectSchema, type ISchema } from 'yup';
import { figure } from '@/core/text/figures';
import { quantitySchema } from '@/core/text/typedNumber';
import type { Anchor, Target } from './target';
import { FORM_FIELDS, TARGET_FIELDS, type TargetField } from './targetFields';

const messageOf = ({ label, min, max, unit }: TargetField): string =>
  `${label}: a number from ${figure(min, 0)} to ${figure(max, 0)} ${unit}`;

/** What a field of a target takes when it is typed: a number with its unit and range in every message; empty is no limit. */
function typedField(field: TargetField): ISchema<unknown> {
  const message = messageOf(field);
  const quantity = quantitySchema(message, field.min, field.max, field.unit);
  if (field.required) return quantity.required(message);
  return quantity
    .transform((value: number | null, original: unknown) =>
      original === null || (typeof original === 'string' && original.trim() === '') ? null : value,
    )
    .nullable()
    .default(null);
}

export const ANCHORS: readonly Anchor[] = ['programme', 'dialogue', 'dialogueFrom'];

const NAME = 'Name: at most 60 characters';

/** The items of a typed list. */
const listed = (text: string): string[] =>
  text
    .split(/[,;]/)
    .map((item) => item.trim())
    .filter((item) => item !== '');

const wholeNumbers = (message: string, min: number, max: number): ISchema<unknown> =>
  string()
    .default('')
    .test('numbers', message, (text) =>
      listed(text).every((item) => /^\d+$/.test(item) && Number(item) >= min && Number(item) <= max),
    );

const FORM_SCHEMAS: Readonly<Record<(typeof FORM_FIELDS)[number]['key'], ISchema<unknown>>> = {
  sampleRates: wholeNumbers(
    'Sample rates: whole numbers from 8000 to 384000 Hz, parted by commas',
    8_000,
    384_000,
  ),
  bitDepths: wholeNumbers('Bit depths: whole numbers from 8 to 64, parted by commas', 8, 64),
  layouts: string().default('').max(200, 'Channels: at most 200 characters'),
  containers: string().default('').max(200, 'Kinds of file: at most 200 characters'),
};

/** The fields of a target that a person fills in, as text where they are lists. */
export const targetSchema: AnyObjectSchema = object({
  name: string().trim().required('Name: give the target a name').max(60, NAME),
  anchor: string()
    .oneOf([...ANCHORS])
    .default('programme'),
  ...Object.fromEntries(TARGET_FIELDS.map((field) => [field.key, typedField(field)])),
  ...FORM_SCHEMAS,
});

/** Those that every kept target says, if only that there is no limit. */
const SAID = ['maxShortTermLufs', 'maxMomentaryLufs', 'maxLoudnessRangeLu'];

const storedField = ({ key, min, max, required }: TargetField): ISchema<unknown> => {
  const value = number().min(min).max(max);
  if (required) return value.required();
  return SAID.includes(key) ? value.nullable().defined() : value.nullable().optional();
};

const list = (item: ISchema<unknown>): ISchema<unknown> =>
  array().of(item).max(50).optional().default(undefined);

/** A target as it is kept, shipped or the editor's own. */
export const storedTargetSchema = object({
  id: string().required().max(200),
  name: string().required().max(200),
  source: string().defined().max(200),
  edition: string().optional().max(200),
  sources: object().optional().default(undefined),
  anchor: string()
    .oneOf([...ANCHORS])
    .optional(),
  ...Object.fromEntries(TARGET_FIELDS.map((field) => [field.key, storedField(field)])),
  sampleRates: list(number().required()),
  bitDepths: list(number().required()),
  layouts: list(string().required()),
  containers: list(string().required()),
}).required();

/** Whether something that was kept is a target. */
export function isTarget(value: unknown): value is Target {
  try {
    storedTargetSchema.validateSync(value, { strict: true });
    return true;
  } catch (error) {
    if (error instanceof ValidationError) return false;
    throw error;
  }
}

/** What was filled in. */
export interface TargetFields {
  readonly name: string;
  readonly anchor: Anchor;
  readonly [figure: string]: string | number | null;
}

/** A target with what was filled in and checked by {@link targetSchema}; what it does not limit is left out. */
export function targetFrom(fields: TargetFields, named: Pick<Target, 'id' | 'source'>): Target {
  const figures = TARGET_FIELDS.flatMap(({ key }) => {
    const value = fields[key] ?? null;
    return value === null && !SAID.includes(key) ? [] : [[key, value] as const];
  });
  const forms = FORM_FIELDS.flatMap(({ key }) => {
    const items = listed(String(fields[key] ?? ''));
    if (items.length === 0) return [];
    return [[key, key === 'sampleRates' || key === 'bitDepths' ? items.map(Number) : items] as const];
  });
  return {
    ...named,
    name: fields.name,
    ...(fields.anchor !== 'programme' && { anchor: fields.anchor }),
    ...Object.fromEntries([...figures, ...forms]),
  } as Target;
}

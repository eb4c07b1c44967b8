import { number, object, string, ValidationError } from 'yup';
import { DUCK_NAMES, DUCK_RANGES, type DuckTiming } from '@/core/programme/ducking';
import { PLAN_PARTS, type Plan } from '@/core/programme/plan';
import { duckTimingShape, planShape } from '@/core/programme/projectSchema';

/** Says what a plan file is, and which version of it this is. */
const FORMAT = 'dengung-plan-1';

const RELATIVE = 'relativeLu is a number from −60 to 20 LU';
const CEILING = 'ceilingDbtp is a number from −30 to 3 dBTP';

const level = object({
  relativeLu: number().required().min(-60, RELATIVE).max(20, RELATIVE).label('LU relative to the target'),
  measure: string()
    .required()
    .oneOf(['integrated', 'maxShortTerm', 'maxMomentary'])
    .label('what is brought there'),
  how: string()
    .required()
    .oneOf(['each', 'source'])
    .label('each clip by itself, or all of one source together'),
  ceilingDbtp: number()
    .nullable()
    .defined()
    .min(-30, CEILING)
    .max(3, CEILING)
    .label('true peak that no clip of it may pass, dBTP; null: the target’s'),
})
  .nullable()
  .defined();

const schema = object({
  format: string().required().oneOf([FORMAT], `format is ${FORMAT}`),
  name: string().trim().required('a plan has a name').max(60, 'name is at most 60 letters'),
  levels: object(Object.fromEntries(PLAN_PARTS.map((part) => [part, level]))).required(),
  ducking: duckTimingShape.default(undefined).optional(),
});

/** One field of a level, as its schema says: name, what it holds, what it is. */
function fieldLine(name: string): string {
  const field = level.describe().fields[name] as {
    readonly label?: string;
    readonly type: string;
    readonly oneOf: readonly unknown[];
    readonly tests: readonly {
      readonly name?: string;
      readonly params?: Readonly<Record<string, unknown>>;
    }[];
  };
  const bound = (test: string): unknown => field.tests.find((one) => one.name === test)?.params?.[test];
  const holds =
    field.oneOf.length > 0
      ? field.oneOf.map((one) => JSON.stringify(one)).join(' or ')
      : `${field.type} from ${String(bound('min'))} to ${String(bound('max'))}`;
  return `  ${name}: ${holds}; ${field.label ?? ''}`;
}

/** What a plan file holds, line by line, read off the schema that checks it. */
export const planFileLines = (): readonly string[] => [
  `format: ${JSON.stringify(FORMAT)}`,
  'name: text of 1 to 60 letters',
  `levels: an object with ${PLAN_PARTS.join(', ')}; each null (left alone), or an object with`,
  ...['relativeLu', 'measure', 'how', 'ceilingDbtp'].map(fieldLine),
  'ducking: how music that is partly under speech goes from one level to the other, or left out; an object with',
  ...(Object.keys(DUCK_RANGES) as (keyof DuckTiming)[]).map(
    (key) =>
      `  ${key}: number from ${DUCK_RANGES[key].min} to ${DUCK_RANGES[key].max}; ${DUCK_NAMES[key].toLowerCase()}, ms`,
  ),
];

/** A plan as the text of a file. */
export const writePlan = ({ name, levels, ducking }: Plan): string =>
  `${JSON.stringify({ format: FORMAT, name, levels, ...(ducking && { ducking }) }, null, 2)}\n`;

/** Reads a plan file. @returns the plan, or a sentence that says what is wrong with it */
export function readPlan(text: string): Plan | { readonly error: string } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return { error: 'This is not a plan: it is not JSON.' };
  }
  try {
    const { name, levels, ducking } = schema.validateSync(json, { strict: true });
    return { name, levels: levels as unknown as Plan['levels'], ...(ducking && { ducking }) };
  } catch (error) {
    if (error instanceof ValidationError) return { error: `This is not a plan: ${error.message}.` };
    throw error;
  }
}

/** Whether something that was kept is a plan. */
export function isPlan(value: unknown): value is Plan {
  try {
    planShape.validateSync(value, { strict: true });
    return true;
  } catch (error) {
    if (error instanceof ValidationError) return false;
    throw error;
  }
}

import { number, object, string, ValidationError } from 'yup';
import { PLAN_PARTS, type Plan } from '@/core/programme/plan';
import { planShape } from '@/core/programme/projectSchema';

/** Says what a plan file is, and which version of it this is. */
const FORMAT = 'dengung-plan-1';

const level = object({
  relativeLu: number()
    .required()
    .min(-60, 'relativeLu is a number from −60 to 20 LU')
    .max(20, 'relativeLu is a number from −60 to 20 LU'),
  measure: string().required().oneOf(['integrated', 'maxShortTerm', 'maxMomentary']),
  how: string().required().oneOf(['each', 'source']),
  ceilingDbtp: number()
    .nullable()
    .defined()
    .min(-30, 'ceilingDbtp is a number from −30 to 3 dBTP')
    .max(3, 'ceilingDbtp is a number from −30 to 3 dBTP'),
})
  .nullable()
  .defined();

const schema = object({
  format: string().required().oneOf([FORMAT], `format is ${FORMAT}`),
  name: string().trim().required('a plan has a name').max(60, 'name is at most 60 letters'),
  levels: object(Object.fromEntries(PLAN_PARTS.map((part) => [part, level]))).required(),
});

/** A plan as the text of a file. */
export const writePlan = ({ name, levels }: Plan): string =>
  `${JSON.stringify({ format: FORMAT, name, levels }, null, 2)}\n`;

/** Reads a plan file. @returns the plan, or a sentence that says what is wrong with it */
export function readPlan(text: string): Plan | { readonly error: string } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return { error: 'This is not a plan: it is not JSON.' };
  }
  try {
    const { name, levels } = schema.validateSync(json, { strict: true });
    return { name, levels: levels as unknown as Plan['levels'] };
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

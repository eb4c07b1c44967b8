import { array, boolean, number, object, string, ValidationError } from 'yup';
import type { Limiter } from '@/core/programme/model';
import { limiterShape } from '@/core/programme/projectSchema';
import { LIMITER_RANGES, rangeMessage } from '@/core/signal/limiter/presets';

/** Says what a file of limiter presets is, and which version of it this is. */
const FORMAT = 'dengung-limiters-1';

const inRange = (key: keyof typeof LIMITER_RANGES) => {
  const { min, max } = LIMITER_RANGES[key];
  const message = rangeMessage(key);
  return number().min(min, message).max(max, message);
};

const preset = object({
  name: string().trim().required('a limiter has a name').max(60, 'name is at most 60 letters'),
  ceilingDbtp: inRange('ceilingDbtp').required(),
  inputDb: inRange('inputDb').default(0),
  lookAheadMs: inRange('lookAheadMs').required(),
  releaseMs: inRange('releaseMs').nullable().defined(),
  lfeApart: boolean().default(false),
});

const schema = object({
  format: string().required().oneOf([FORMAT], `format is ${FORMAT}`),
  limiters: array().of(preset).required().min(1, 'there is no limiter in it').max(500),
});

const plain = ({
  name,
  ceilingDbtp,
  inputDb,
  lookAheadMs,
  releaseMs,
  lfeApart,
}: Omit<Limiter, 'bypassed'>) => ({
  ...{ name, ceilingDbtp, inputDb, lookAheadMs, releaseMs, lfeApart },
});

/** Limiter presets as the text of a file. */
export const writeLimiters = (limiters: readonly Limiter[]): string =>
  `${JSON.stringify({ format: FORMAT, limiters: limiters.map(plain) }, null, 2)}\n`;

/** Reads a file of limiter presets. @returns at least one, or a sentence that says what is wrong with it */
export function readLimiters(text: string): readonly Limiter[] | { readonly error: string } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return { error: 'This is not a limiter preset: it is not JSON.' };
  }
  try {
    const { limiters } = schema.validateSync(json, { strict: true });
    return limiters.map((one) => ({
      ...plain({ ...one, inputDb: one.inputDb ?? 0, lfeApart: one.lfeApart ?? false }),
      bypassed: false,
    }));
  } catch (error) {
    if (error instanceof ValidationError) return { error: `This is not a limiter preset: ${error.message}.` };
    throw error;
  }
}

/** Whether something that was stored is a limiter preset. */
export const isLimiterPreset = (value: unknown): value is Limiter =>
  value !== null && limiterShape.isValidSync(value, { strict: true }) && value !== undefined;

import { number, ValidationError } from 'yup';

const NUMBER = /^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/;

/** What else a unit is called. */
const ALSO: Readonly<Record<string, string>> = { LUFS: 'LKFS' };

/**
 * A number as people write it: with a hyphen or a true minus, a point or a comma, and its unit behind it if they like. What
 * else a programming language takes for a number (1e3, 0x10, Infinity) is not one that anybody types here.
 * @param unit the one that is understood
 * @returns NaN when it is none
 */
export function typedNumber(text: string, unit: string): number {
  const plain = text.trim().replaceAll('−', '-');
  const units = [unit, ALSO[unit] ?? unit].map((name) => name.toLowerCase());
  const written = units.find((name) => plain.toLowerCase().endsWith(name));
  const digits = written ? plain.slice(0, -written.length).trimEnd() : plain;
  return NUMBER.test(digits) ? Number(digits.replace(',', '.')) : NaN;
}

/** A number within a range, typed or given; one message says all that is accepted, with range and unit. */
export const quantitySchema = (message: string, min: number, max: number, unit: string) =>
  number()
    .transform((_, original: unknown) =>
      typeof original === 'string' ? typedNumber(original, unit) : original,
    )
    .typeError(message)
    .min(min, message)
    .max(max, message);

/** Reads a number that was typed. @param message what is accepted, with range and unit */
export function readNumber(
  text: string,
  message: string,
  [min, max, unit]: readonly [min: number, max: number, unit: string],
): number | { readonly error: string } {
  try {
    return quantitySchema(message, min, max, unit).required(message).validateSync(text);
  } catch (error) {
    if (error instanceof ValidationError) return { error: error.message };
    throw error;
  }
}

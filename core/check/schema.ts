import { number, object, string, ValidationError, type InferType } from 'yup';
import { figure } from '@/core/text/figures';
import { quantitySchema } from '@/core/text/typedNumber';
import type { Target } from './target';

/** A number within a range, with its unit and range in every message. */
function quantity(label: string, unit: string, min: number, max: number) {
  return quantitySchema(
    `${label}: a number from ${figure(min, 0)} to ${figure(max, 0)} ${unit}`,
    min,
    max,
    unit,
  );
}

/** An optional limit: an empty field is no limit. */
function limit(label: string, unit: string, min: number, max: number) {
  return quantity(label, unit, min, max)
    .transform((value: number | null, original: unknown) =>
      original === null || (typeof original === 'string' && original.trim() === '') ? null : value,
    )
    .nullable()
    .default(null);
}

/** The fields of a target that a person fills in. */
export const targetSchema = object({
  name: string().trim().required('Name: give the target a name').max(60, 'Name: at most 60 characters'),
  integratedLufs: quantity('Integrated', 'LUFS', -60, 0).required('Integrated: a number from −60 to 0 LUFS'),
  toleranceLu: quantity('Tolerance', 'LU', 0, 10).required('Tolerance: a number from 0 to 10 LU'),
  maxTruePeakDbtp: quantity('Max true peak', 'dBTP', -30, 3).required(
    'Max true peak: a number from −30 to 3 dBTP',
  ),
  maxShortTermLufs: limit('Max short-term', 'LUFS', -60, 10),
  maxMomentaryLufs: limit('Max momentary', 'LUFS', -60, 10),
  maxLoudnessRangeLu: limit('Max loudness range', 'LU', 0, 60),
});

export type TargetFields = InferType<typeof targetSchema>;

const limitShape = (min: number, max: number) => number().nullable().defined().min(min).max(max);

/** A target as it is kept, shipped or the editor's own. */
export const storedTargetSchema = object({
  id: string().required().max(200),
  name: string().required().max(200),
  source: string().defined().max(200),
  integratedLufs: number().required().min(-60).max(0),
  toleranceLu: number().required().min(0).max(10),
  maxTruePeakDbtp: number().required().min(-30).max(3),
  maxShortTermLufs: limitShape(-60, 10),
  maxMomentaryLufs: limitShape(-60, 10),
  maxLoudnessRangeLu: limitShape(0, 60),
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

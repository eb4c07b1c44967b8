import { boolean, number, object, string, ValidationError, type InferType } from 'yup';
import { quantitySchema } from '@/core/text/typedNumber';
import type { Service } from './services';

const REFERENCE = 'Reference: a number from −60 to 0 LUFS, or empty';
const CEILING = 'Ceiling: a number from −30 to 3 dBTP';
const NAME = 'Name: 1 to 60 letters';

/** What a person fills in of a service. */
export const serviceSchema = object({
  name: string().trim().required(NAME).max(60, NAME),
  referenceLufs: quantitySchema(REFERENCE, -60, 0, 'LUFS')
    .transform((value: number | null, original: unknown) =>
      typeof original === 'string' && original.trim() === '' ? null : value,
    )
    .nullable()
    .default(null),
  turnsDown: boolean().default(true),
  turnsUp: boolean().default(false),
  peaks: string().oneOf(['nothing', 'stops', 'limits']).default('nothing'),
  ceilingDbtp: quantitySchema(CEILING, -30, 3, 'dBTP').required(CEILING),
  byAlbum: boolean().default(false),
});
export type ServiceFields = InferType<typeof serviceSchema>;

const stored = object({
  id: string().required().max(200),
  name: string().required().max(200),
  referenceLufs: number().nullable().defined().min(-60).max(0),
  turnsDown: boolean().required(),
  turnsUp: boolean().required(),
  peaks: string().required().oneOf(['nothing', 'stops', 'limits']),
  ceilingDbtp: number().required().min(-30).max(3),
  byAlbum: boolean().required(),
}).required();

/** Whether something that was kept is a service. */
export function isService(value: unknown): value is Service {
  try {
    stored.validateSync(value, { strict: true });
    return true;
  } catch (error) {
    if (error instanceof ValidationError) return false;
    throw error;
  }
}

import { boolean, number, object, string } from 'yup';
import { ROLES, type GainReason, type Role } from '@/core/programme/model';
import { isObject, type Json } from './otioJson';

/** Under these names stands in a file what only this product reads again. */
const ROLE = 'dengung_role';
const REASON = 'dengung_reason';

const reasonShape = object({
  kind: string().required().oneOf(['levelled']),
  measure: string()
    .required()
    .oneOf(['integrated', 'maxShortTerm', 'maxMomentary', 'truePeak', 'samplePeak']),
  mode: string().required().oneOf(['each', 'together', 'programme', 'plan']),
  goal: number().required(),
  stoppedByCeiling: boolean().required(),
}).noUnknown();

/** A track's metadata with its role, where it is not the usual one. */
export function withRole(metadata: unknown, role: Role): Json {
  const rest = Object.fromEntries(
    Object.entries(isObject(metadata) ? metadata : {}).filter(([key]) => key !== ROLE),
  );
  return role === 'dialogue' ? rest : { ...rest, [ROLE]: role };
}

/** The role that a track's metadata say; `null` when they say none. */
export function roleIn(metadata: unknown): Role | null {
  const role = isObject(metadata) ? metadata[ROLE] : null;
  return ROLES.find((known) => known === role) ?? null;
}

/**
 * How a gain came about, for the metadata of its effect. The effect holds all that a clip sounds with: what it was worked out
 * for, by the clip's key, does not hold for it; nor is any of it a track's.
 */
export function reasonTold(reason: GainReason): Json {
  if (reason.kind !== 'levelled') return {};
  const { measure, mode, goal, stoppedByCeiling } = reason;
  return { [REASON]: { kind: 'levelled', measure, mode, goal, stoppedByCeiling } };
}

/** The reason in an effect's metadata; `null` when there is none that makes sense. */
export function reasonIn(metadata: Json): GainReason | null {
  const told = metadata[REASON];
  return reasonShape.isValidSync(told, { strict: true }) && told
    ? { ...(told as Extract<GainReason, { kind: 'levelled' }>), besidesDb: 0 }
    : null;
}

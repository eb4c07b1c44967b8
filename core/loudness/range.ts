import { ABSOLUTE_GATE_LUFS } from './gating';
import { lufsToMeanSquare, meanSquareToLufs } from './decibels';

/** Mean square of the absolute gate. */
export const ABSOLUTE_GATE = lufsToMeanSquare(ABSOLUTE_GATE_LUFS);
/** −20 LU as a power ratio. */
export const RELATIVE_GATE = 0.01;
/** Between which parts of the windows the range lies. */
export const LOW = 0.1;
export const HIGH = 0.95;

/** Loudness range, and the two levels between which it lies. */
export interface LoudnessRange {
  readonly lowLufs: number;
  readonly highLufs: number;
}

/**
 * The levels between which the loudness range lies.
 * @param shortTerm mean squares of the short-term windows, one every 100 ms
 * @returns `null` when no window passes the gates
 * Source: EBU Tech 3342, clause 3 and its annex (nearest-rank percentiles).
 */
export function loudnessRangeOf(shortTerm: Float64Array): LoudnessRange | null {
  const audible = shortTerm.filter((z) => z >= ABSOLUTE_GATE);
  if (audible.length === 0) return null;
  const mean = audible.reduce((sum, z) => sum + z, 0) / audible.length;
  const gated = audible.filter((z) => z >= mean * RELATIVE_GATE).sort();
  const rank = (part: number): number => gated[Math.round((gated.length - 1) * part)]!;
  return { lowLufs: meanSquareToLufs(rank(LOW))!, highLufs: meanSquareToLufs(rank(HIGH))! };
}

/** Loudness range, LU; `null` when no window passes the gates. */
export function loudnessRange(shortTerm: Float64Array): number | null {
  const range = loudnessRangeOf(shortTerm);
  return range && range.highLufs - range.lowLufs;
}

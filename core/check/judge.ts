import { dbToAmplitude, lufsToMeanSquare } from '@/core/loudness/decibels';

/**
 * Room for rounding when a figure is held against a limit, LU or dB. What is brought exactly to a limit is not past it, also
 * once its samples are 24-bit or single-precision numbers: a step of those moves a true peak near full scale by 1e-6 dB.
 */
const ROOM = 1e-5;

/** Where a figure stands to what it is held against. */
export type Standing = 'under' | 'within' | 'over';

/** Where a deviation stands to a tolerance to both sides. */
export function standingOf(deviation: number, tolerance: number): Standing {
  if (deviation > tolerance + ROOM) return 'over';
  return deviation < -tolerance - ROOM ? 'under' : 'within';
}

/** Whether a figure is past its limit; nothing never is. */
export const isOver = (value: number | null, limit: number): boolean =>
  value !== null && value > limit + ROOM;

/** Whether a figure is short of a limit that it has to reach; nothing never is. */
export const isUnder = (value: number | null, limit: number): boolean =>
  value !== null && value < limit - ROOM;

/** A largest true peak as the linear value past which a peak is over it. */
export const peakLimit = (limitDbtp: number): number => dbToAmplitude(limitDbtp + ROOM);

/** A largest loudness as the mean square past which a window is over it. */
export const meanSquareLimit = (limitLufs: number): number => lufsToMeanSquare(limitLufs + ROOM);

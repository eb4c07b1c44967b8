import { pointAfter } from './curve';
import type { BalancePoint } from './model';
import { shapedPart } from './segments';

/**
 * The balance over time at a place: by the shape of each segment from point to point, the same before the first and after
 * the last.
 * @param curve at least one point
 * @returns −1 (left only) to 1 (right only)
 */
export function balanceAt(curve: readonly BalancePoint[], at: number): number {
  const index = pointAfter(curve, at);
  const [before, after] = [curve[index - 1], curve[index]];
  if (!before || !after || before.at === at) return (before ?? after)!.balance;
  const segment = { from: before.at, to: after.at, shape: before.shape };
  return before.balance + (after.balance - before.balance) * shapedPart(segment, at);
}

/** A balance over time of points in any order; of several in one place the last stands. */
export function balanceCurveOf(points: readonly BalancePoint[]): readonly BalancePoint[] {
  const byPlace = new Map(
    points.map((point) => [point.at, { ...point, balance: Math.min(1, Math.max(-1, point.balance)) }]),
  );
  return [...byPlace.values()].sort((a, b) => a.at - b.at);
}

export const sameBalance = (a: readonly BalancePoint[], b: readonly BalancePoint[]): boolean =>
  a === b ||
  (a.length === b.length &&
    a.every(({ at, balance, shape }, i) => {
      const other = b[i]!;
      return at === other.at && balance === other.balance && shape === other.shape;
    }));

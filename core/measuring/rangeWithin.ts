import { bisectLeft } from 'd3-array';
import { ABSOLUTE_GATE, HIGH, LOW, RELATIVE_GATE } from '@/core/loudness/range';
import { meanSquareToLufs } from '@/core/loudness/decibels';

/** The value of rank `rank` among two sorted lists taken together, each from an index on. */
function ranked(a: Float64Array, fromA: number, b: Float64Array, fromB: number, rank: number): number {
  // How many of the values up to that rank come from a.
  let low = Math.max(0, rank + 1 - (b.length - fromB));
  let high = Math.min(rank + 1, a.length - fromA);
  while (low < high) {
    const taken = (low + high) >> 1;
    if (a[fromA + taken]! < b[fromB + rank - taken]!) low = taken + 1;
    else high = taken;
  }
  const lastA = low > 0 ? a[fromA + low - 1]! : -Infinity;
  const lastB = rank + 1 - low > 0 ? b[fromB + rank - low]! : -Infinity;
  return Math.max(lastA, lastB);
}

/**
 * Loudness range of short-term windows of which a slice is worked out again and again while the rest stays: the rest
 * is sorted once. Source: EBU Tech 3342, as `loudnessRangeOf`.
 */
export class RangeWithin {
  private readonly outside: Float64Array;
  private readonly outsideSum: number;

  /**
   * @param shortTerm mean squares of all windows, one every 100 ms
   * @param first first of the slice; `end` after its last
   */
  constructor(shortTerm: Float64Array, first: number, end: number) {
    const outside = new Float64Array(shortTerm.length - (end - first));
    outside.set(shortTerm.subarray(0, first));
    outside.set(shortTerm.subarray(end), first);
    this.outside = outside.filter((z) => z >= ABSOLUTE_GATE).sort();
    this.outsideSum = this.outside.reduce((sum, z) => sum + z, 0);
  }

  /** The range with the slice holding these, LU; `null` when no window passes the gates. */
  with(inside: Float64Array): number | null {
    const audible = inside.filter((z) => z >= ABSOLUTE_GATE).sort();
    const count = this.outside.length + audible.length;
    if (count === 0) return null;
    const mean = audible.reduce((sum, z) => sum + z, this.outsideSum) / count;
    const fromOutside = bisectLeft(this.outside, mean * RELATIVE_GATE);
    const fromInside = bisectLeft(audible, mean * RELATIVE_GATE);
    const gated = count - fromOutside - fromInside;
    const rank = (part: number): number =>
      ranked(this.outside, fromOutside, audible, fromInside, Math.round((gated - 1) * part));
    return meanSquareToLufs(rank(HIGH))! - meanSquareToLufs(rank(LOW))!;
  }
}

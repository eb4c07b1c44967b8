import { bisectLeft } from 'd3-array';
import { ABSOLUTE_GATE } from './range';
import { dbToPower, meanSquareToLufs } from './decibels';

const RELATIVE_GATE = dbToPower(-10);

/** Sums over values in the order of their size, as values are added one by one (a binary indexed tree). */
class SortedSums {
  private readonly sums: Float64Array;
  private readonly counts: Int32Array;

  constructor(private readonly size: number) {
    this.sums = new Float64Array(size + 1);
    this.counts = new Int32Array(size + 1);
  }

  add(rank: number, value: number): void {
    for (let i = rank + 1; i <= this.size; i += i & -i) {
      this.sums[i]! += value;
      this.counts[i]!++;
    }
  }

  /** Of the values of rank under `rank`. */
  under(rank: number): { sum: number; count: number } {
    let [sum, count] = [0, 0];
    for (let i = rank; i > 0; i -= i & -i) {
      sum += this.sums[i]!;
      count += this.counts[i]!;
    }
    return { sum, count };
  }
}

/**
 * Integrated loudness of what has been heard so far, with both gates, as it goes on. Source: ITU-R BS.1770-5, Annex 1, eq. 5 to 7.
 * @param blocks weighted mean squares of the gating blocks, one every 100 ms
 * @param every how many blocks lie between two values
 * @returns LUFS after each `every` blocks; NaN where nothing was over the gate yet
 */
export function runningIntegrated(blocks: Float64Array, every: number): Float64Array {
  const sorted = Float64Array.from(blocks).sort();
  const sums = new SortedSums(sorted.length);
  // Equal values get ranks one after the other.
  const taken = new Map<number, number>();
  const out = new Float64Array(Math.floor(blocks.length / every)).fill(NaN);
  let [sum, count] = [0, 0];
  for (let k = 0; k < blocks.length; k++) {
    const value = blocks[k]!;
    if (value > ABSOLUTE_GATE) {
      const first = bisectLeft(sorted, value);
      const before = taken.get(value) ?? 0;
      taken.set(value, before + 1);
      sums.add(first + before, value);
      sum += value;
      count++;
    }
    if ((k + 1) % every !== 0 || count === 0) continue;
    // What lies at the gate itself does not count.
    const gate = (sum / count) * RELATIVE_GATE;
    let rank = bisectLeft(sorted, gate);
    while (rank < sorted.length && sorted[rank] === gate) rank++;
    const quiet = sums.under(rank);
    if (count > quiet.count)
      out[(k + 1) / every - 1] = meanSquareToLufs((sum - quiet.sum) / (count - quiet.count)) ?? NaN;
  }
  return out;
}

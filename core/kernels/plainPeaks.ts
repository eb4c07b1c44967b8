import { GAIN_OF_HALF, GAIN_OF_MID, PAIR_0, PAIR_1 } from './truePeakTaps';

type Six = [number, number, number, number, number, number];

const CELL = 16;

/**
 * Largest interpolated magnitude at the outputs for samples[from..to); samples[from−11..] must be there.
 * @param each takes the magnitude at each output as well
 * Source: ITU-R BS.1770-5, Annex 2.
 */
export function interpolatedPeak(x: Float32Array, from: number, to: number, each?: Float32Array): number {
  const [e00, e01, e02, e03, e04, e05] = PAIR_0.even as Six;
  const [o00, o01, o02, o03, o04, o05] = PAIR_0.odd as Six;
  const [e10, e11, e12, e13, e14, e15] = PAIR_1.even as Six;
  const [o10, o11, o12, o13, o14, o15] = PAIR_1.odd as Six;
  let peak = 0;
  for (let n = from; n < to; n++) {
    const a0 = x[n]!;
    const b0 = x[n - 11]!;
    const a1 = x[n - 1]!;
    const b1 = x[n - 10]!;
    const a2 = x[n - 2]!;
    const b2 = x[n - 9]!;
    const a3 = x[n - 3]!;
    const b3 = x[n - 8]!;
    const a4 = x[n - 4]!;
    const b4 = x[n - 7]!;
    const a5 = x[n - 5]!;
    const b5 = x[n - 6]!;
    const s0 = a0 + b0;
    const s1 = a1 + b1;
    const s2 = a2 + b2;
    const s3 = a3 + b3;
    const s4 = a4 + b4;
    const s5 = a5 + b5;
    const d0 = a0 - b0;
    const d1 = a1 - b1;
    const d2 = a2 - b2;
    const d3 = a3 - b3;
    const d4 = a4 - b4;
    const d5 = a5 - b5;
    const p =
      Math.abs(e00 * s0 + e01 * s1 + e02 * s2 + e03 * s3 + e04 * s4 + e05 * s5) +
      Math.abs(o00 * d0 + o01 * d1 + o02 * d2 + o03 * d3 + o04 * d4 + o05 * d5);
    const q =
      Math.abs(e10 * s0 + e11 * s1 + e12 * s2 + e13 * s3 + e14 * s4 + e15 * s5) +
      Math.abs(o10 * d0 + o11 * d1 + o12 * d2 + o13 * d3 + o14 * d4 + o15 * d5);
    const most = p > q ? p : q;
    if (each) each[n - from] = most;
    if (most > peak) peak = most;
  }
  return peak;
}

export interface BlockPeaks {
  readonly truePeak: number;
  readonly samplePeak: number;
  readonly silentCells: number;
}

/**
 * Sample peak and true peak of samples[from..to), given the 16 samples before `from` in the same array, linear. The true
 * peak is never below the sample peak: near the top of the band the filter alone could read under it.
 *
 * The block is looked at in cells of 16 samples. What a cell can reach at most is bounded by its own extremes and those
 * of the cell before it (the filter looks back on no more); the most promising cell is worked out first, and cells
 * whose bound cannot pass what has been found are left out. The answer is the same as that of the full filter.
 * Source: ITU-R BS.1770-5, Annex 2.
 */
export function blockPeaks(samples: Float32Array, from: number, to: number): BlockPeaks {
  const cells = Math.ceil((to - from) / CELL);
  const bounds = new Float64Array(cells);
  let lowBefore = 0;
  let highBefore = 0;
  for (let i = from - CELL; i < from; i++) {
    lowBefore = Math.min(lowBefore, samples[i]!);
    highBefore = Math.max(highBefore, samples[i]!);
  }
  let samplePeak = 0;
  let silentCells = 0;
  let best = 0;
  for (let cell = 0; cell < cells; cell++) {
    const start = from + cell * CELL;
    const end = Math.min(start + CELL, to);
    let low = samples[start]!;
    let high = low;
    for (let i = start + 1; i < end; i++) {
      const x = samples[i]!;
      if (x < low) low = x;
      if (x > high) high = x;
    }
    if (high > samplePeak) samplePeak = high;
    if (-low > samplePeak) samplePeak = -low;
    if (low === 0 && high === 0) silentCells++;
    const reachLow = Math.min(low, lowBefore);
    const reachHigh = Math.max(high, highBefore);
    bounds[cell] =
      GAIN_OF_MID * Math.abs((reachHigh + reachLow) / 2) + GAIN_OF_HALF * ((reachHigh - reachLow) / 2);
    if (bounds[cell]! > bounds[best]!) best = cell;
    lowBefore = low;
    highBefore = high;
  }
  let truePeak = samplePeak;
  const evaluate = (cell: number): void => {
    if (bounds[cell]! <= truePeak) return;
    const start = from + cell * CELL;
    const found = interpolatedPeak(samples, start, Math.min(start + CELL, to));
    if (found > truePeak) truePeak = found;
  };
  if (cells > 0) evaluate(best);
  for (let cell = 0; cell < cells; cell++) evaluate(cell);
  return { truePeak, samplePeak, silentCells };
}

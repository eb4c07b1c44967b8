import type { Layout } from '@/core/audio/layout';

/**
 * The figures worked out the long way, straight from the text of the standards and sharing nothing with the product:
 * whole-signal filtering in direct form I, block sums sample by sample, sinc interpolation. Slow on purpose.
 */
function directForm(x: ArrayLike<number>, b: readonly number[], a: readonly number[]): Float64Array {
  const y = new Float64Array(x.length);
  for (let n = 0; n < x.length; n++) {
    let sum = 0;
    for (let k = 0; k < b.length; k++) if (n >= k) sum += b[k]! * x[n - k]!;
    for (let k = 1; k < a.length; k++) if (n >= k) sum -= a[k]! * y[n - k]!;
    y[n] = sum;
  }
  return y;
}

/** K-weighting at 48 kHz by the tables of ITU-R BS.1770, Annex 1. */
function kWeighted48k(x: ArrayLike<number>): Float64Array {
  const shelf = directForm(
    x,
    [1.53512485958697, -2.69169618940638, 1.19839281085285],
    [1, -1.69065929318241, 0.73248077421585],
  );
  return directForm(shelf, [1, -2, 1], [1, -1.99004745483398, 0.99007225036621]);
}

const toLufs = (z: number): number => -0.691 + 10 * Math.log10(z);

/** Loudness of every window, sample by sample. */
function windowLoudness(
  weighted: readonly Float64Array[],
  weights: readonly number[],
  length: number,
  hop: number,
): number[] {
  const out: number[] = [];
  const frames = weighted[0]!.length;
  for (let start = 0; start + length <= frames; start += hop) {
    let z = 0;
    weighted.forEach((channel, c) => {
      let sum = 0;
      for (let i = start; i < start + length; i++) sum += channel[i]! * channel[i]!;
      z += (weights[c]! * sum) / length;
    });
    out.push(toLufs(z));
  }
  return out;
}

const meanLoudness = (blocks: readonly number[]): number =>
  toLufs(blocks.reduce((sum, l) => sum + 10 ** ((l + 0.691) / 10), 0) / blocks.length);

export interface BruteFigures {
  readonly integrated: number | null;
  readonly maxMomentary: number;
  readonly maxShortTerm: number;
  readonly range: number;
}

/** Figures of a 48 kHz signal. */
export function bruteFigures(channels: readonly Float32Array[], layout: Layout): BruteFigures {
  const weighted = channels.map(kWeighted48k);
  const blocks = windowLoudness(weighted, layout.weights, 19_200, 4_800);
  const audible = blocks.filter((l) => l > -70);
  const gate = audible.length > 0 ? meanLoudness(audible) - 10 : 0;
  const gated = audible.filter((l) => l > gate);
  const shortTerm = windowLoudness(weighted, layout.weights, 144_000, 4_800);
  const loud = shortTerm.filter((l) => l >= -70);
  const rangeGate = loud.length > 0 ? meanLoudness(loud) - 20 : 0;
  const kept = loud.filter((l) => l >= rangeGate).sort((a, b) => a - b);
  const percentile = (p: number): number => kept[Math.round((kept.length - 1) * p)] ?? NaN;
  return {
    integrated: gated.length > 0 ? meanLoudness(gated) : null,
    maxMomentary: Math.max(...windowLoudness(weighted, layout.weights, 19_200, 960)),
    maxShortTerm: Math.max(...windowLoudness(weighted, layout.weights, 144_000, 960)),
    range: percentile(0.95) - percentile(0.1),
  };
}

/** ITU-R BS.1770, Annex 2, printed table, convolved in full: the largest magnitude of any phase. */
export function bruteTruePeak(x: Float32Array): number {
  const phase0 = [
    0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625,
    0.97216796875, -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
  ];
  const phase1 = [
    -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625,
    0.77978515625, -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
  ];
  const phases = [phase0, phase1, [...phase1].reverse(), [...phase0].reverse()];
  let peak = 0;
  for (const value of x) peak = Math.max(peak, Math.abs(value));
  for (let n = 0; n < x.length + 11; n++) {
    for (const taps of phases) {
      let sum = 0;
      for (let k = 0; k < 12; k++) sum += taps[k]! * (x[n - k] ?? 0);
      peak = Math.max(peak, Math.abs(sum));
    }
  }
  return peak;
}

/**
 * The interpolating filter of ITU-R BS.1770-5, Annex 2: 4 phases of 12 taps (order 48). Phases 2 and 3 are phases 1
 * and 0 reversed. It is used at every sample rate, so that what it reads depends on the signal's place relative to
 * the sample rate only, and the oversampled rate is at least 4× the file's own.
 */
const PHASE_0 = [
  0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625,
  0.97216796875, -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
] as const;
const PHASE_1 = [
  -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
  -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
] as const;

const HALF = 6;

/**
 * A mirrored pair of phases, split in even and odd parts: with s = x[n−k]+x[n−11+k] and d = x[n−k]−x[n−11+k] the
 * two outputs are S+D and S−D, so the larger magnitude is |S|+|D| at half the multiplications.
 */
function evenOdd(phase: readonly number[]): { even: number[]; odd: number[] } {
  const even: number[] = [];
  const odd: number[] = [];
  for (let k = 0; k < HALF; k++) {
    even.push((phase[k]! + phase[11 - k]!) / 2);
    odd.push((phase[k]! - phase[11 - k]!) / 2);
  }
  return { even, odd };
}

export const PAIR_0 = evenOdd(PHASE_0);
export const PAIR_1 = evenOdd(PHASE_1);

const sum = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0);

/**
 * For samples that all lie in [mid−half, mid+half], no phase can exceed GAIN_OF_MID·|mid| + GAIN_OF_HALF·half:
 * a constant passes with the sum of the taps, a deviation with at most the sum of their magnitudes. The tiny
 * allowance covers rounding.
 */
export const GAIN_OF_MID = Math.max(Math.abs(sum(PHASE_0)), Math.abs(sum(PHASE_1))) * (1 + 1e-6);
export const GAIN_OF_HALF = Math.max(sum(PHASE_0.map(Math.abs)), sum(PHASE_1.map(Math.abs))) * (1 + 1e-6);

/**
 * Each phase is a straight line between the two samples it falls between, which can grow to `size`, and a filter of the
 * second differences, which can grow to `bend`: the taps that are left when the line's two are taken away have neither a
 * sum nor a first moment, so summed up twice they are the taps of that filter.
 */
function lineAndBend(phase: readonly number[]): { size: number; bend: number } {
  const moment = phase.reduce((total, tap, k) => total + k * tap, 0);
  const second = moment - 5 * sum(phase);
  const first = sum(phase) - second;
  let once = 0;
  let twice = 0;
  let bend = 0;
  phase.forEach((tap, k) => {
    once += tap - (k === 5 ? first : k === 6 ? second : 0);
    twice += once;
    bend += Math.abs(twice);
  });
  return { size: Math.abs(first) + Math.abs(second), bend };
}

const BOUNDS = [PHASE_0, PHASE_1].map(lineAndBend);
/** With samples of at most `s` and second differences of at most `d` no phase can exceed GAIN_OF_SIZE·s + GAIN_OF_BEND·d. */
export const GAIN_OF_SIZE = Math.max(...BOUNDS.map(({ size }) => size)) * (1 + 1e-6);
export const GAIN_OF_BEND = Math.max(...BOUNDS.map(({ bend }) => bend)) * (1 + 1e-6);

import { besselI0 } from '@/core/audio/bessel';

const FACTOR = 32;
const BETA = 9;

/** taps[phase]: weights of the samples from n − reach + 1 to n + reach for the place n + phase/32. */
const made = new Map<number, readonly Float64Array[]>();

function tapsOf(reach: number): readonly Float64Array[] {
  const known = made.get(reach);
  if (known) return known;
  const taps = Array.from({ length: FACTOR }, (_, phase) =>
    Float64Array.from({ length: 2 * reach }, (__, i) => {
      const distance = i - reach + 1 - phase / FACTOR;
      const sinc = distance === 0 ? 1 : Math.sin(Math.PI * distance) / (Math.PI * distance);
      return (sinc * besselI0(BETA * Math.sqrt(Math.max(0, 1 - (distance / reach) ** 2)))) / besselI0(BETA);
    }),
  );
  made.set(reach, taps);
  return taps;
}

/**
 * The largest magnitude of a sound, by windowed sinc interpolation to 32 times its rate, straight from the definition: nothing
 * of what the product measures with. Intervals are left out of which no sample within two comes up to a fifth of `about`.
 * @param about about how large it is, linear
 * @param reach samples on either side
 */
export function longPeak(x: Float32Array, about: number, reach = 256): number {
  const taps = tapsOf(reach);
  let most = 0;
  const size = (n: number): number => Math.abs(x[n] ?? 0);
  for (let n = -4; n < x.length + 4; n++) {
    if (Math.max(size(n - 1), size(n), size(n + 1), size(n + 2)) < about / 5) continue;
    const [first, last] = [Math.max(0, n - reach + 1), Math.min(x.length, n + reach + 1)];
    for (const phase of taps) {
      let sum = 0;
      for (let i = first; i < last; i++) sum += phase[i - n + reach - 1]! * x[i]!;
      if (Math.abs(sum) > most) most = Math.abs(sum);
    }
  }
  return most;
}

import { besselI0 } from '@/core/audio/bessel';

/**
 * Interpolation by three halvings of the distance between samples, each with a half-band filter: to 8 times the rate. The first
 * has to tell what lies just under half the rate from what would lie just over it and is long; the others need not.
 */

/** Weights of the samples from the nearest on, the same on both sides, for the place in the middle between two samples. */
function halfBand(samples: number, beta: number): Float32Array {
  const window = (distance: number): number =>
    besselI0(beta * Math.sqrt(Math.max(0, 1 - (distance / samples) ** 2))) / besselI0(beta);
  const taps = Float64Array.from({ length: samples }, (_, k) => {
    const distance = k + 0.5;
    return (Math.sin(Math.PI * distance) / (Math.PI * distance)) * window(distance);
  });
  // A constant stays the constant it is.
  const sum = taps.reduce((a, b) => a + b, 0);
  return Float32Array.from(taps, (tap) => tap / (2 * sum));
}

/**
 * The taps of each halving. What is left of images: under −80 dB, from 0.49 of the rate down.
 * Source: J. F. Kaiser, “Nonrecursive digital filter design using the I0-sinh window function”, IEEE ISCAS 1974.
 */
export const FIRST_HALVINGS: readonly Float32Array[] = [halfBand(512, 8.5), halfBand(64, 8)];
export const HALVINGS: readonly Float32Array[] = [halfBand(8, 7), halfBand(6, 7)];

import type { FadeShape } from './model';

/** Where an exponential fade begins, dB; it goes straight in dB from there, and straight in amplitude below it. */
const EXPONENTIAL_DB = -60;

/** Opposite sounds cancel as they cross; from here on no fade can make up for it. */
const LEAST_CORRELATION = -0.9;

/**
 * The amplitude of a fade, t of its way from silence (0 to 1).
 *
 * - `equalPower`: sin(πt/2). Two that cross keep their power where their sounds have nothing in common.
 * - `straight`: t. Two that cross keep their amplitude where their sounds are the same.
 * - `smooth`: (1 − cos πt)/2. Starts and ends without a corner.
 * - `exponential`: 10^(−3(1 − t)) less what is left of it at t = 0: even in dB.
 * - a number ρ: sin(πt/2) / √(1 + ρ sin πt). With g₁ and g₂ those of two that cross, g₁² + g₂² + 2ρ·g₁·g₂ = 1: they keep
 *   their power where ρ is the correlation of their sounds. ρ is taken as −0.9 below that.
 */
export function fadeAt(part: number, shape: FadeShape = 'equalPower'): number {
  const t = Math.min(1, Math.max(0, part));
  switch (shape) {
    case 'equalPower':
      return Math.sin((Math.PI / 2) * t);
    case 'straight':
      return t;
    case 'smooth':
      return (1 - Math.cos(Math.PI * t)) / 2;
    case 'exponential': {
      const least = 10 ** (EXPONENTIAL_DB / 20);
      return (10 ** ((EXPONENTIAL_DB / 20) * (1 - t)) - least) / (1 - least);
    }
    default: {
      const rho = Math.max(LEAST_CORRELATION, shape);
      return Math.sin((Math.PI / 2) * t) / Math.sqrt(1 + rho * Math.sin(Math.PI * t));
    }
  }
}

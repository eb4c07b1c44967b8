/** One second-order section, a0 = 1: y = b0·x + b1·x₁ + b2·x₂ − a1·y₁ − a2·y₂. */
export interface Biquad {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/** The two stages of K-weighting at one sample rate. */
export interface KWeighting {
  readonly shelf: Biquad;
  readonly highPass: Biquad;
}

const TABLE_RATE = 48_000;

/** ITU-R BS.1770-5, Annex 1, table 1 (48 kHz). */
const SHELF_48K: Biquad = {
  b0: 1.53512485958697,
  b1: -2.69169618940638,
  b2: 1.19839281085285,
  a1: -1.69065929318241,
  a2: 0.73248077421585,
};

/** ITU-R BS.1770-5, Annex 1, table 2 (48 kHz). */
const HIGH_PASS_48K: Biquad = { b0: 1, b1: -2, b2: 1, a1: -1.99004745483398, a2: 0.99007225036621 };

/**
 * Carries a section given for 48 kHz over to another rate: the inverse bilinear transform gives the analogue
 * prototype in units of tan(ω/2); its frequency axis is stretched so that `matchHz` stays where it is, and the
 * forward transform follows. The prototype's numerator comes along, so the pass-band gain is kept.
 */
function carryOver(section: Biquad, sampleRate: number, matchHz: number): Biquad {
  if (sampleRate === TABLE_RATE) return section;
  const { b0, b1, b2, a1, a2 } = section;
  const slice = Math.tan((Math.PI * matchHz) / TABLE_RATE) / Math.tan((Math.PI * matchHz) / sampleRate);
  const n2 = (b0 - b1 + b2) * slice * slice;
  const n1 = 2 * (b0 - b2) * slice;
  const n0 = b0 + b1 + b2;
  const d2 = (1 - a1 + a2) * slice * slice;
  const d1 = 2 * (1 - a2) * slice;
  const d0 = 1 + a1 + a2;
  const a0 = d2 + d1 + d0;
  return {
    b0: (n2 + n1 + n0) / a0,
    b1: (2 * (n0 - n2)) / a0,
    b2: (n2 - n1 + n0) / a0,
    a1: (2 * (d0 - d2)) / a0,
    a2: (d2 - d1 + d0) / a0,
  };
}

/** The frequency of a section's own pole pair, in Hz: the place where its response turns. */
function poleFrequency({ a1, a2 }: Biquad): number {
  const t = Math.sqrt((1 + a1 + a2) / (1 - a1 + a2));
  return (Math.atan(t) * TABLE_RATE) / Math.PI;
}

/** Under this rate the shelf cannot keep its whole shape, and is held exact where levels are calibrated instead. */
const LOWEST_FULL_BAND_RATE = 44_100;
const CALIBRATION_HZ = 1000;

/**
 * K-weighting for any sample rate. From 44.1 to 384 kHz it stays within 0.01 dB of the 48 kHz response over the audible
 * band. Under 44.1 kHz the bilinear transform squeezes the shelf towards half the sample rate: there it is exact at
 * 1 kHz, and off by up to 0.05 dB at 22.05 kHz, 0.23 dB at 11.025 kHz and 0.43 dB at 8 kHz near the top of the band.
 * @param sampleRate Hz, 8,000 to 384,000
 * Source: ITU-R BS.1770-5, Annex 1: the tables at 48 kHz, the same frequency response at other rates.
 */
export function kWeighting(sampleRate: number): KWeighting {
  return {
    shelf: carryOver(
      SHELF_48K,
      sampleRate,
      sampleRate < LOWEST_FULL_BAND_RATE ? CALIBRATION_HZ : poleFrequency(SHELF_48K),
    ),
    highPass: carryOver(HIGH_PASS_48K, sampleRate, poleFrequency(HIGH_PASS_48K)),
  };
}

/** Seconds after which what came before a place no longer shows in the K-weighted signal (below 1e-18 of it). */
export const SETTLING_SECONDS = 0.2;

/** Below this a filter state is silence; left alone it would become denormal and slow everything down. */
const STATE_FLOOR = 1e-30;

/** The running K-weighting filter of one channel, in double precision. */
export class KFilter {
  private readonly k: KWeighting;
  private s1 = 0;
  private s2 = 0;
  private h1 = 0;
  private h2 = 0;

  constructor(sampleRate: number) {
    this.k = kWeighting(sampleRate);
  }

  /**
   * Filters samples[from..to) and moves the state on.
   * @returns the sum of the squares of the weighted samples
   */
  energy(samples: Float32Array, from: number, to: number): number {
    return this.run(samples, from, to, null);
  }

  /** The same, giving the weighted samples. */
  weigh(samples: Float32Array, from: number, to: number): Float64Array {
    const out = new Float64Array(to - from);
    this.run(samples, from, to, out);
    return out;
  }

  private run(samples: Float32Array, from: number, to: number, out: Float64Array | null): number {
    const { b0, b1, b2, a1, a2 } = this.k.shelf;
    const { b0: c0, b1: c1, b2: c2, a1: d1, a2: d2 } = this.k.highPass;
    let { s1, s2, h1, h2 } = this;
    let sum = 0;
    for (let i = from; i < to; i++) {
      const x = samples[i]!;
      const y = b0 * x + s1;
      s1 = b1 * x - a1 * y + s2;
      s2 = b2 * x - a2 * y;
      const z = c0 * y + h1;
      h1 = c1 * y - d1 * z + h2;
      h2 = c2 * y - d2 * z;
      sum += z * z;
      if (out) out[i - from] = z;
    }
    this.s1 = Math.abs(s1) < STATE_FLOOR ? 0 : s1;
    this.s2 = Math.abs(s2) < STATE_FLOOR ? 0 : s2;
    this.h1 = Math.abs(h1) < STATE_FLOOR ? 0 : h1;
    this.h2 = Math.abs(h2) < STATE_FLOOR ? 0 : h2;
    return sum;
  }
}

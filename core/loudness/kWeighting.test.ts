import { describe, expect, it } from 'vitest';
import { kWeighting, KFilter, type Biquad } from './kWeighting';

/** Magnitude of a section at a frequency, dB, from its transfer function. */
function response({ b0, b1, b2, a1, a2 }: Biquad, hz: number, rate: number): number {
  const w = (2 * Math.PI * hz) / rate;
  const power = (p: number, q: number, r: number): number =>
    (p + q * Math.cos(w) + r * Math.cos(2 * w)) ** 2 + (q * Math.sin(w) + r * Math.sin(2 * w)) ** 2;
  return 10 * Math.log10(power(b0, b1, b2) / power(1, a1, a2));
}

function both(rate: number, hz: number): number {
  const { shelf, highPass } = kWeighting(rate);
  return response(shelf, hz, rate) + response(highPass, hz, rate);
}

describe('K-weighting', () => {
  it('is the published table at 48 kHz', () => {
    expect(kWeighting(48_000).shelf.b0).toBe(1.53512485958697);
    expect(kWeighting(48_000).highPass).toEqual({
      b0: 1,
      b1: -2,
      b2: 1,
      a1: -1.99004745483398,
      a2: 0.99007225036621,
    });
  });

  it.each([44_100, 88_200, 96_000, 176_400, 192_000, 384_000])(
    'stays within 0.01 dB of the 48 kHz response at %i Hz',
    (rate) => {
      for (let hz = 20; hz <= 20_000; hz *= 1.02) {
        expect(Math.abs(both(rate, hz) - both(48_000, hz))).toBeLessThan(0.01);
      }
    },
  );

  it.each([
    [8_000, 0.44],
    [11_025, 0.24],
    [22_050, 0.05],
    [32_000, 0.02],
  ])('at %i Hz is exact at 1 kHz and within %f dB elsewhere', (rate, allowed) => {
    expect(both(rate, 1000)).toBeCloseTo(both(48_000, 1000), 2);
    for (let hz = 20; hz <= rate * 0.45; hz *= 1.02) {
      expect(Math.abs(both(rate, hz) - both(48_000, hz))).toBeLessThan(allowed);
    }
  });

  it('comes to rest after sound, without denormals', () => {
    const filter = new KFilter(48_000);
    filter.energy(new Float32Array(4800).fill(0.5), 0, 4800);
    const silence = new Float32Array(48_000);
    for (let i = 0; i < 5; i++) filter.energy(silence, 0, silence.length);
    expect(filter.energy(silence, 0, silence.length)).toBe(0);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { NEAR_REACH } from './nearBounds';
import { nearBlockPeaks, nearPeaks } from './nearPeaks';
import { plainNearPeaks } from './plainNearPeaks';

const COUNT = 1_500;
const made = (f: (i: number) => number): Float32Array =>
  Float32Array.from({ length: COUNT + 2 * NEAR_REACH + 1 }, (_, i) => f(i - NEAR_REACH));
const peaksOf = (x: Float32Array, level: number, find = nearPeaks): Float32Array => {
  const out = new Float32Array(COUNT);
  find(x, COUNT, level, 0, out);
  return out;
};
const inDb = (value: number): number => 20 * Math.log10(value);
const highest = (values: Float32Array): number => values.reduce((a, b) => Math.max(a, b), 0);

describe('peaks near a level', () => {
  it('of sines are never read more than 0.01 dB under what they are, nor over what the standard reads', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.002, max: 0.495, noNaN: true }),
        fc.double({ min: 0, max: 6.3, noNaN: true }),
        (cycles, phase) => {
          // Long enough for a crest to come by.
          const x = made((i) => 0.9 * Math.sin(2 * Math.PI * cycles * i + phase));
          const db = inDb(highest(peaksOf(x, 0.8)) / 0.9);
          expect(db).toBeGreaterThan(-0.01);
          expect(db).toBeLessThan(0.3);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('are the same in WebAssembly and in plain arithmetic', () => {
    fc.assert(
      fc.property(fc.nat(1_000), fc.double({ min: 0.2, max: 1.2, noNaN: true }), (seed, level) => {
        const loud = noise(COUNT + 2 * NEAR_REACH + 1, 1, seed + 1);
        const x = loud.map((value, i) => value * (0.1 + Math.abs(Math.sin(i / 170))));
        const [fast, plain] = [peaksOf(x, level), peaksOf(x, level, plainNearPeaks)];
        plain.forEach((value, i) => {
          // Under the level only the plain ones say how much, and only where they looked.
          if (value > level * 0.99) expect(inDb(fast[i]! / value)).toBeCloseTo(0, 3);
          else expect(fast[i]).toBeLessThan(level);
        });
      }),
      { numRuns: 20 },
    );
  });

  it('are those of the frames asked for, whatever else is looked at', () => {
    const x = noise(COUNT + 2 * NEAR_REACH + 1, 1, 9);
    const whole = peaksOf(x, 0.9);
    const part = new Float32Array(400);
    nearPeaks(x.subarray(333), 400, 0.9, 0, part);
    part.forEach((value, i) => {
      // The first and the last have no neighbour that could call for a closer look.
      if (i > 0 && i < 399) expect(value).toBe(whole[333 + i]);
    });
  });

  it('far below the level are nothing', () => {
    expect(
      highest(
        peaksOf(
          made((i) => 0.2 * Math.sin(i)),
          0.9,
        ),
      ),
    ).toBe(0);
    expect(
      highest(
        peaksOf(
          made(() => 0),
          0.9,
        ),
      ),
    ).toBe(0);
  });

  /** The largest magnitude between two samples at 16 places, straight from the sampling theorem with a long window. */
  const between = (x: Float32Array, n: number): number => {
    let most = 0;
    for (let place = 0; place <= 16; place++) {
      let sum = 0;
      for (let k = n - 511; k <= n + 512; k++) {
        const distance = n + place / 16 - k;
        const sinc = distance === 0 ? 1 : Math.sin(Math.PI * distance) / (Math.PI * distance);
        sum += x[k]! * sinc * Math.cos((Math.PI * distance) / 1_040) ** 2;
      }
      most = Math.max(most, Math.abs(sum));
    }
    return most;
  };

  /** Sound of all kinds: low, high, close to half the rate, hiss, and the signs that make one place as large as they can. */
  const hardSound = fc.record({
    parts: fc.array(
      fc.record({
        cycles: fc.oneof(
          fc.double({ min: 0.001, max: 0.5, noNaN: true }),
          fc.double({ min: 0.45, max: 0.5, noNaN: true }),
        ),
        size: fc.double({ min: 0, max: 0.6, noNaN: true }),
        phase: fc.double({ min: 0, max: 6.3, noNaN: true }),
      }),
      { maxLength: 4 },
    ),
    hiss: fc.constantFrom(0, 0, 0.05, 0.4),
    signs: fc.constantFrom(0, 0, 0.1, 0.25),
    place: fc.double({ min: 100, max: 250, noNaN: true }),
    seed: fc.nat(1_000),
  });
  const LOOKED_AT = 350;
  const soundOf = ({
    parts,
    hiss,
    signs,
    place,
    seed,
  }: typeof hardSound extends fc.Arbitrary<infer T> ? T : never) => {
    const random = noise(LOOKED_AT + 2 * NEAR_REACH + 1, 1, seed + 1);
    return random.map((value, k) => {
      const i = k - NEAR_REACH;
      const tones = parts.reduce(
        (sum, { cycles, size, phase }) => sum + size * Math.sin(2 * Math.PI * cycles * i + phase),
        0,
      );
      return tones + hiss * value + signs * Math.sign(Math.sin(Math.PI * (i - place)) * (i - place));
    });
  };

  it('are all found, to 0.04 dB, wherever the sampling theorem has them over the level', () => {
    fc.assert(
      fc.property(hardSound, fc.double({ min: 0.7, max: 0.999, noNaN: true }), (made, part) => {
        // Closer to half the rate it is the window that decides what there is.
        const parts = made.parts.map((tone) => ({ ...tone, cycles: Math.min(0.495, tone.cycles) }));
        const x = soundOf({ ...made, parts, signs: 0 });
        const real = Float64Array.from({ length: LOOKED_AT }, (_, i) => between(x, NEAR_REACH + i));
        const level = part * real.reduce((a, b) => Math.max(a, b), 1e-6);
        for (const find of [nearPeaks, plainNearPeaks]) {
          const out = new Float32Array(LOOKED_AT);
          find(x, LOOKED_AT, level, 0, out);
          real.forEach((value, i) => {
            if (value > level * 1.002) expect(inDb(out[i]! / value)).toBeGreaterThan(-0.04);
          });
        }
      }),
      { numRuns: 12 },
    );
  });

  it('are those that are found when it is looked everywhere', () => {
    fc.assert(
      fc.property(hardSound, fc.double({ min: 0.5, max: 0.999, noNaN: true }), (made, part) => {
        const x = soundOf(made);
        const [all, some] = [new Float32Array(LOOKED_AT), new Float32Array(LOOKED_AT)];
        nearPeaks(x, LOOKED_AT, 1e-9, 0, all);
        const level = part * Math.max(1e-6, highest(all));
        nearPeaks(x, LOOKED_AT, level, 0, some);
        all.forEach((value, i) => {
          if (value >= level) expect(some[i]).toBe(value);
          else expect(some[i]).toBeLessThanOrEqual(value);
        });
      }),
      { numRuns: 300 },
    );
  });

  it('that others hold down are told exactly or lie under one of those, at most so far before them', () => {
    const held = 120;
    fc.assert(
      fc.property(hardSound, (made) => {
        const x = soundOf(made);
        const [all, some] = [0, held].map((samples) => {
          const out = new Float32Array(LOOKED_AT);
          nearPeaks(x, LOOKED_AT, 0.5, samples, out);
          return out;
        }) as [Float32Array, Float32Array];
        all.forEach((value, i) => {
          if (value < 0.5 || some[i] === value) return;
          expect(some[i]).toBeLessThan(value);
          expect(highest(some.subarray(Math.max(0, i - held), i)) / value).toBeGreaterThan(0.997);
        });
      }),
      { numRuns: 200 },
    );
  });

  it('are the largest of each block where those are asked for', () => {
    const x = noise(COUNT + 2 * NEAR_REACH + 1, 1.2, 4);
    const each = peaksOf(x, 0.8);
    const most = new Float32Array(90).fill(1.3);
    nearBlockPeaks(x, { skip: 7, block: 15, count: 90 }, 0.8, 0, most);
    most.forEach((value, k) => {
      const first = 7 + 15 * k;
      expect(value).toBe(Math.max(Math.fround(1.3), highest(each.subarray(first, first + 16))));
    });
  });
});

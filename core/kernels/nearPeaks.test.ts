import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { NEAR_REACH, nearPeaks, plainNearPeaks } from './nearPeaks';

const COUNT = 1_500;
const made = (f: (i: number) => number): Float32Array =>
  Float32Array.from({ length: COUNT + 2 * NEAR_REACH + 1 }, (_, i) => f(i - NEAR_REACH));
const peaksOf = (x: Float32Array, level: number, find = nearPeaks): Float32Array => {
  const out = new Float32Array(COUNT);
  find(x, COUNT, level, out);
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
    nearPeaks(x.subarray(333), 400, 0.9, part);
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
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { meanSquareToLufs } from './decibels';
import { integrated } from './gating';
import { solveGain, integratedAt } from './gainSolve';
import { slidingSums } from './windows';

describe('sliding sums', () => {
  it('are the plain sums of every full window', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 80 }),
        fc.integer({ min: 1, max: 30 }),
        (values, width) => {
          const sums = slidingSums(Float64Array.from(values), width);
          expect(sums.length).toBe(Math.max(0, values.length - width + 1));
          sums.forEach((sum, k) =>
            expect(sum).toBeCloseTo(
              values.slice(k, k + width).reduce((a, b) => a + b, 0),
              12,
            ),
          );
        },
      ),
    );
  });

  it('keep the full precision of a whisper after a bang', () => {
    const values = Float64Array.from({ length: 60 }, (_, i) => (i < 10 ? 1e6 : 1e-12));
    expect(slidingSums(values, 20).at(-1)).toBeCloseTo(20e-12, 24);
  });
});

describe('gates', () => {
  const blocks = (...lufs: number[]): Float64Array =>
    Float64Array.from(lufs, (l) => 10 ** ((l + 0.691) / 10));

  it('leave out what is at or under −70 LUFS, then what is 10 LU under the rest', () => {
    expect(integrated(blocks(-71, -75)).integratedLufs).toBeNull();
    expect(integrated(blocks(-23, -23, -36, -80)).integratedLufs).toBeCloseTo(-23, 9);
    // First pass: the mean of −20 and −29.5 is −22.55; the gate lies at −32.55 and both stay.
    expect(integrated(blocks(-20, -29.5)).relativeGateLufs).toBeCloseTo(-32.55, 2);
  });

  it('a gain that lifts blocks over the absolute gate is still solved for, and proven by evaluating it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -95, max: -5, noNaN: true }), { minLength: 1, maxLength: 40 }),
        fc.double({ min: -50, max: -8, noNaN: true }),
        (levels, goal) => {
          const signal = [{ blocks: blocks(...levels), gainDb: 0 }];
          const solution = solveGain(signal, goal)!;
          expect(solution.integratedLufs).toBe(integratedAt(signal, solution.shiftDb));
          // With loud enough blocks the answer is exact; gating may leave a small jump where none can be.
          if (Math.max(...levels) > -60) expect(Math.abs(solution.integratedLufs - goal)).toBeLessThan(1);
        },
      ),
    );
  });

  it('no sound is null, however it is written', () => {
    expect(meanSquareToLufs(0)).toBeNull();
    expect(meanSquareToLufs(1e-40)).toBeNull();
    expect(solveGain([{ blocks: new Float64Array(9), gainDb: 0 }], -23)).toBeNull();
  });
});

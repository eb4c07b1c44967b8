import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveArbitrary } from '@/core/testing/projects';
import { curveDbAt } from './curve';
import { rideBounds, riddenCurve, thinned, type RideValue } from './ride';

const RATE = 48_000;
/** A hand: values every few milliseconds, wherever it goes. */
const passArbitrary: fc.Arbitrary<RideValue[]> = fc
  .array(fc.tuple(fc.integer({ min: 200, max: 4_000 }), fc.double({ min: -24, max: 12, noNaN: true })), {
    minLength: 2,
    maxLength: 80,
  })
  .map((steps) => {
    let at = 10_000;
    return steps.map(([gap, db]) => ({ at: (at += gap), db }));
  });

describe('a thinned ride', () => {
  it('never leaves the ride by more than the tolerance, and its points are places of the ride', () => {
    fc.assert(
      fc.property(
        passArbitrary,
        fc.double({ min: 0.01, max: 4, noNaN: true }),
        fc.integer({ min: 0, max: 8_000 }),
        (values, db, frames) => {
          const points = thinned(values, db, frames);
          const { lo, hi } = rideBounds(values, db, frames);
          values.forEach(({ at }, i) => {
            expect(curveDbAt(points, at)).toBeGreaterThanOrEqual(lo[i]! - 1e-9);
            expect(curveDbAt(points, at)).toBeLessThanOrEqual(hi[i]! + 1e-9);
          });
          const places = new Set(values.map(({ at }) => at));
          for (const { at } of points) expect(places.has(at)).toBe(true);
          expect(points.length).toBeLessThanOrEqual(values.length);
        },
      ),
    );
  });

  it('without tolerance in time lies as near everywhere between, too', () => {
    fc.assert(
      fc.property(passArbitrary, fc.double({ min: 0.1, max: 3, noNaN: true }), (values, db) => {
        const points = thinned(values, db, 0);
        for (let at = values[0]!.at; at <= values.at(-1)!.at; at += 997)
          expect(Math.abs(curveDbAt(points, at) - curveDbAt(values, at))).toBeLessThanOrEqual(db + 1e-9);
      }),
    );
  });

  it('is a few points where the hand made a few moves', () => {
    // Up for a second, held, and down: 200 values with a little tremble.
    const values = Array.from({ length: 200 }, (_, i) => ({
      at: i * 480,
      db: (i < 50 ? i / 10 : i < 150 ? 5 : (200 - i) / 10) + 0.1 * Math.sin(i * 2),
    }));
    expect(thinned(values, 0.3, 480).length).toBeLessThanOrEqual(5);
    expect(thinned(values, 0, 0).length).toBeGreaterThan(150);
  });
});

describe('a ride put down on a curve', () => {
  it('keeps the old curve outside of it', () => {
    fc.assert(
      fc.property(curveArbitrary, passArbitrary, (before, values) => {
        const after = riddenCurve(before, [values], { db: 0.3, ms: 20 }, RATE);
        const [first, last] = [values[0]!.at, values.at(-1)!.at + 0.1 * RATE];
        for (const at of [first - 40_000, first - 2_000, first - 2, last + 1, last + 3_000, last + 90_000]) {
          // Eased segments that a ride cuts through go on in straight lines.
          const eased = before.some(({ shape }) => shape !== undefined);
          if (!eased && at > -10_000) expect(curveDbAt(after, at)).toBeCloseTo(curveDbAt(before, at), 6);
        }
      }),
    );
  });

  it('adds to what was there, and a later one stands over an earlier one', () => {
    const before = [{ at: 0, db: -6 }];
    const flat = (db: number, from: number, to: number): RideValue[] => [
      { at: from, db },
      { at: to, db },
    ];
    const rides = [flat(3, 10_000, 50_000), flat(-3, 30_000, 40_000)];
    const after = riddenCurve(before, rides, { db: 0.1, ms: 0 }, RATE);
    expect(curveDbAt(after, 5_000)).toBe(-6);
    expect(curveDbAt(after, 20_000)).toBe(-3);
    expect(curveDbAt(after, 35_000)).toBe(-9);
    expect(curveDbAt(after, 48_000)).toBe(-3);
    expect(curveDbAt(after, 60_000)).toBe(-6);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveArbitrary, testClip } from '@/core/testing/projects';
import { curveDbAt, curveDifference, curveSections, simplified, straightAcross } from './curve';
import type { SegmentShape } from './model';
import { STEP_FRAMES } from './segments';

const place = fc.integer({ min: -20_000, max: 5 * 48_000 });

describe('a gain curve', () => {
  it('goes straight in dB between its points and is level beyond them', () => {
    const curve = [
      { at: 100, db: 0 },
      { at: 200, db: -6 },
      { at: 300, db: 3 },
    ];
    expect([0, 100, 125, 200, 250, 300, 9_999].map((at) => curveDbAt(curve, at))).toEqual([
      0, 0, -1.5, -6, -1.5, 3, 3,
    ]);
    expect(curveDbAt([], 5)).toBe(0);
    expect(curveDbAt([{ at: 7, db: 2 }], -5)).toBe(2);
  });

  it('is the same without the points that change nothing', () => {
    fc.assert(
      fc.property(curveArbitrary, fc.array(place, { maxLength: 6 }), (any, more) => {
        const curve = any.map(({ at, db }) => ({ at, db }));
        const at = new Set([...curve.map((point) => point.at), ...more]);
        const dense = [...at].sort((a, b) => a - b).map((x) => ({ at: x, db: curveDbAt(curve, x) }));
        const few = simplified(dense);
        expect(few.length).toBeLessThanOrEqual(Math.max(curve.length, 1));
        for (let x = -25_000; x < 250_000; x += 997)
          expect(Math.abs(curveDbAt(few, x) - curveDbAt(dense, x))).toBeLessThan(1e-6);
      }),
    );
  });

  it('goes along a segment by its shape', () => {
    const segment = (shape: SegmentShape | undefined) => [
      { at: 0, db: 0, ...(shape && { shape }) },
      { at: 1_000, db: -10 },
    ];
    const at = (shape: SegmentShape | undefined, place: number): number => curveDbAt(segment(shape), place);
    expect(at('easeStart', 500)).toBeCloseTo(-2.5, 12);
    expect(at('easeEnd', 500)).toBeCloseTo(-7.5, 12);
    expect(at('ease', 500)).toBeCloseTo(-5, 12);
    expect(at('ease', 250)).toBeCloseTo(-10 * (3 / 16 - 2 / 64), 12);
    expect(at('step', 1_000 - STEP_FRAMES)).toBeCloseTo(0, 12);
    expect(at('step', 1_000 - STEP_FRAMES / 2)).toBeCloseTo(-5, 12);
    for (const shape of ['easeStart', 'easeEnd', 'ease', 'step', undefined] as const)
      expect([at(shape, 0), at(shape, 1_000)]).toEqual([0, -10]);
  });

  it('with eased segments laid straight at an edge is nearly the same', () => {
    fc.assert(
      fc.property(curveArbitrary, place, (curve, edge) => {
        const few = straightAcross(curve, [edge]);
        for (const [i, point] of curve.entries()) {
          const next = curve[i + 1];
          const cut = next && point.shape && edge > point.at && edge < next.at;
          for (let k = 0; next && k <= 20; k++) {
            const x = Math.round(point.at + ((next.at - point.at) * k) / 20);
            const off = Math.abs(curveDbAt(few, x) - curveDbAt(curve, x));
            // Places are whole frames: a step a few frames long has steep lines.
            const steep = Math.abs(next.db - point.db) / Math.min(next.at - point.at, STEP_FRAMES);
            expect(off).toBeLessThanOrEqual(cut ? 0.0025 * Math.abs(next.db - point.db) + 2 * steep : 0);
          }
        }
      }),
    );
  });

  it('differs from another only where the difference is said to be', () => {
    fc.assert(
      fc.property(curveArbitrary, curveArbitrary, (a, b) => {
        const found = curveDifference(a, b);
        for (let x = -25_000; x < 250_000; x += 499)
          if (curveDbAt(a, x) !== curveDbAt(b, x)) {
            expect(found).not.toBeNull();
            expect(x).toBeGreaterThanOrEqual(found!.from);
            expect(x).toBeLessThanOrEqual(found!.to);
          }
        expect(curveDifference(a, [...a])).toBeNull();
      }),
    );
  });

  it('is narrowed down to the points around a change', () => {
    const points = [0, 10, 20, 30, 40, 50].map((at) => ({ at, db: at % 20 }));
    expect(curveDifference(points, points.with(3, { at: 30, db: 1 }))).toEqual({ from: 20, to: 40 });
    expect(curveDifference(points, points.toSpliced(3, 1))).toEqual({ from: 20, to: 40 });
    expect(curveDifference(points, points.toSpliced(0, 1))).toEqual({ from: -Infinity, to: 10 });
    expect(curveDifference([], points.slice(0, 3))).toEqual({ from: 0, to: 20 });
    expect(curveDifference(points, [...points, { at: 60, db: 1 }])).toEqual({ from: 50, to: Infinity });
    expect(curveDifference([], points)).toEqual({ from: 0, to: Infinity });
  });

  it('tells the slices of a clip that it changes', () => {
    const clip = testClip({ id: 'c', sourceStart: 100, length: 800 });
    const curve = [
      { at: 50, db: -6 },
      { at: 150, db: -6 },
      { at: 160, db: 0 },
      { at: 300, db: 0 },
      { at: 310, db: 4 },
      { at: 320, db: -9 },
      { at: 330, db: 0 },
      { at: 340, db: -2 },
      { at: 350, db: 0 },
    ];
    expect(curveSections({ ...clip, curve })).toEqual([
      { from: 100, to: 160, db: -6 },
      { from: 300, to: 330, db: -9 },
      { from: 330, to: 350, db: -2 },
    ]);
    expect(curveSections({ ...clip, curve: [{ at: 0, db: 2 }] })).toEqual([{ from: 100, to: 900, db: 2 }]);
    expect(curveSections(clip)).toEqual([]);
  });
});

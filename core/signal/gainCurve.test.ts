import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import { changeSections } from '@/core/programme/edits/sections';
import { clipEnd } from '@/core/programme/model';
import {
  clipArbitrary,
  curveArbitrary,
  openTestSource,
  testClip,
  testProject,
} from '@/core/testing/projects';
import { applyCurve, curveWithin } from './gainCurve';
import { renderRange } from './mix';

describe('the gain curve of a clip', () => {
  it('gives each frame the gain of its place, in any pieces', () => {
    fc.assert(
      fc.property(
        curveArbitrary,
        fc.integer({ min: 0, max: 48_000 }),
        fc.integer({ min: 300, max: 4_000 }),
        (curve, sourceStart, piece) => {
          fc.pre(curve.length > 0);
          const whole = new Float32Array(6_000).fill(1);
          applyCurve([whole], curve, sourceStart);
          const off = whole.map((x, i) => {
            const db = curveDbAt(curve, sourceStart + i);
            return Math.abs(x - (db <= SILENT_DB ? 0 : 10 ** (db / 20)));
          });
          expect(off.every((x) => x < 5e-7)).toBe(true);
          for (let from = 0; from < 6_000; from += piece) {
            const part = new Float32Array(Math.min(piece, 6_000 - from)).fill(1);
            applyCurve([part], curve, sourceStart + from);
            expect(part).toEqual(whole.slice(from, from + part.length));
            if (!curveWithin(curve, sourceStart + from, sourceStart + from + part.length))
              expect(part.every((x) => x === 1)).toBe(true);
          }
        },
      ),
      { numRuns: 15 },
    );
  });

  it('is rendered, and any range fits its neighbours to the bit', async () => {
    await fc.assert(
      fc.asyncProperty(clipArbitrary, curveArbitrary, fc.nat(), async (clip, curve, where) => {
        const project = testProject([{ ...clip, curve }]);
        const end = clipEnd(clip);
        const cut = where % end;
        const [whole, first, second, plain] = await Promise.all([
          renderRange(project, openTestSource, 0, end),
          renderRange(project, openTestSource, 0, cut),
          renderRange(project, openTestSource, cut, end - cut),
          renderRange(testProject([{ ...clip, curve: [] }]), openTestSource, 0, end),
        ]);
        whole.forEach((channel, c) => {
          const apart = (i: number): number => (i < cut ? first[c]![i]! : second[c]![i - cut]!);
          expect(channel.every((x, i) => x === apart(i))).toBe(true);
          for (let i = clip.start; i < end; i += 331) {
            const db = curveDbAt(curve, clip.sourceStart + i - clip.start);
            expect(channel[i]).toBeCloseTo(plain[c]![i]! * (db <= SILENT_DB ? 0 : 10 ** (db / 20)), 5);
          }
        });
      }),
      { numRuns: 12 },
    );
  });
});

describe('a section', () => {
  it('changes nothing outside it, and all of it but its ramps by just as much', async () => {
    await fc.assert(
      fc.asyncProperty(
        clipArbitrary,
        fc.nat(100_000),
        fc.integer({ min: 3_000, max: 60_000 }),
        fc.integer({ min: -20, max: 6 }),
        async (clip, at, length, db) => {
          // What is silent stays silent, and the way there is another one then.
          fc.pre(clip.curve.every((point) => point.db > SILENT_DB));
          const shaped = clip.curve.some(({ shape }) => shape);
          const before = testProject([clip]);
          const range = { from: clip.start + at - 20_000, to: clip.start + at - 20_000 + length };
          const after = changeSections(before, range, () => ({ kind: 'change', db }), 480);
          const render = (project: typeof before) =>
            renderRange(project, openTestSource, clip.start, clip.length);
          const [a, b] = await Promise.all([render(before), render(after)]);
          const [from, to] = [range.from - clip.start, range.to - clip.start];
          const [inner, outer] = [from + (from > 0 ? 480 : 0), to - (to < clip.length ? 480 : 0)];
          const factor = 10 ** (db / 20);
          let [outside, within] = [0, 0];
          for (let i = 0; i < clip.length; i += 7) {
            const [x, y] = [a[0]![i]!, b[0]![i]!];
            if (i < from || i >= to) outside = Math.max(outside, Math.abs(y - x));
            else if (i >= inner && i < outer && to - from > 2 * 480)
              within = Math.max(within, Math.abs(y - x * factor));
          }
          // An eased segment that is cut into goes on as straight lines.
          expect(outside).toBeLessThanOrEqual(shaped ? 0.005 : 0);
          expect(within).toBeLessThan(shaped ? 0.05 : 5e-6);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('of silence has nothing in it', async () => {
    const project = testProject([testClip({ id: 'a', start: 1_000 })]);
    const silent = changeSections(project, { from: 20_000, to: 40_000 }, () => ({ kind: 'silence' }), 480);
    const [left] = await renderRange(silent, openTestSource, 0, 60_000);
    expect(left!.subarray(20_480, 39_520).every((x) => x === 0)).toBe(true);
    expect(left!.subarray(19_000, 20_000).some((x) => x !== 0)).toBe(true);
  });
});

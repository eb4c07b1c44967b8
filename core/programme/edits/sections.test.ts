import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { curveDbAt, curveSections, SILENT_DB } from '@/core/programme/curve';
import { splitClips, trimClips } from '@/core/programme/edits/cutting';
import { setSampleRate } from '@/core/programme/edits/settings';
import { fadeAt } from '@/core/programme/fadeLaw';
import type { FadeShape } from '@/core/programme/model';
import { doStep, redoStep, startHistory, undoStep } from '@/core/programme/history';
import { clipArbitrary, clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { changeSections, clearCurves, lowerParts, moveSection, type SectionChange } from './sections';

const lower = (db: number) => () => ({ kind: 'change', db }) as const;

describe('sections of clips', () => {
  it('are raised by a curve with a ramp at either end, inside the range', () => {
    const project = testProject([testClip({ id: 'a', start: 1_000, sourceStart: 500, length: 9_000 })]);
    const after = changeSections(project, { from: 3_000, to: 5_000 }, lower(-6), 100);
    expect(after.clips[0]!.curve).toEqual([
      { at: 2_500, db: 0 },
      { at: 2_600, db: -6 },
      { at: 4_400, db: -6 },
      { at: 4_500, db: 0 },
    ]);
  });

  it('have no ramp to be heard where they reach the edge of the clip', () => {
    const project = testProject([testClip({ id: 'a', start: 1_000, sourceStart: 500, length: 9_000 })]);
    const { curve } = changeSections(project, { from: 0, to: 99_000 }, lower(-6), 100).clips[0]!;
    expect([500, 5_000, 9_499].map((at) => curveDbAt(curve, at))).toEqual([-6, -6, -6]);
  });

  it('add up, and the same again the other way leaves nothing behind', () => {
    fc.assert(
      fc.property(
        clipArbitrary,
        fc.nat(150_000),
        fc.integer({ min: 10, max: 90_000 }),
        fc.double({ min: -12, max: 12, noNaN: true }),
        (clip, from, length, db) => {
          const project = testProject([{ ...clip, curve: [] }]);
          const range = { from, to: from + length };
          const once = changeSections(project, range, lower(db), 700);
          const back = changeSections(once, range, lower(-db), 700);
          expect(back.clips[0]!.curve).toEqual([]);
        },
      ),
    );
  });

  it('put down on a curve add to it at every place', () => {
    fc.assert(
      fc.property(
        clipArbitrary,
        fc.nat(100_000),
        fc.double({ min: -6, max: 6, noNaN: true }),
        (clip, at, db) => {
          const project = testProject([clip]);
          const from = clip.start + (at % clip.length);
          const { curve } = changeSections(project, { from, to: from + 30_000 }, lower(db), 500).clips[0]!;
          const flat = changeSections(
            testProject([{ ...clip, curve: [] }]),
            { from, to: from + 30_000 },
            lower(db),
            500,
          );
          const { sourceStart, length } = clip;
          const silent = clip.curve.some((point) => point.db <= SILENT_DB);
          if (silent) return;
          for (let x = sourceStart; x < sourceStart + length; x += 211)
            expect(curveDbAt(curve, x)).toBeCloseTo(
              curveDbAt(clip.curve, x) + curveDbAt(flat.clips[0]!.curve, x),
              6,
            );
        },
      ),
    );
  });

  it('are undone and done again to the bit', () => {
    fc.assert(
      fc.property(
        clipsArbitrary,
        fc.nat(100_000),
        fc.constantFrom<SectionChange>(
          { kind: 'change', db: -4.2 },
          { kind: 'set', db: 3 },
          { kind: 'silence' },
          { kind: 'even' },
          { kind: 'fade', way: 'out', shape: 'smooth' },
          { kind: 'fade', way: 'in', shape: 'exponential' },
        ),
        (clips, from, change) => {
          const project = testProject(clips);
          const history = doStep(startHistory(project), 'Part', (state) =>
            changeSections(state, { from, to: from + 40_000 }, () => change, 500),
          );
          expect(undoStep(history).project).toEqual(project);
          expect(redoStep(undoStep(history)).project).toEqual(history.project);
        },
      ),
    );
  });

  it('that are silent stay so when they are raised', () => {
    const project = testProject([testClip({ id: 'a' })]);
    const range = { from: 10_000, to: 20_000 };
    const silent = changeSections(project, range, () => ({ kind: 'silence' }), 100);
    const raised = changeSections(silent, range, lower(6), 100);
    expect(curveDbAt(raised.clips[0]!.curve, 15_000)).toBe(SILENT_DB);
    expect(curveSections(raised.clips[0]!)).toEqual([{ from: 10_000, to: 20_000, db: SILENT_DB }]);
    const even = changeSections(raised, range, () => ({ kind: 'even' }));
    expect(even.clips[0]!.curve).toEqual([]);
  });

  it('fade by the formula, from what was there, and leave the rest as it is', () => {
    const shapes = fc.constantFrom<FadeShape>('equalPower', 'straight', 'smooth', 'exponential', 0.3);
    const way = fc.constantFrom('in' as const, 'out' as const);
    fc.assert(
      fc.property(shapes, way, fc.integer({ min: 4_000, max: 90_000 }), (shape, into, length) => {
        const project = testProject([testClip({ id: 'a' })]);
        const base = changeSections(project, { from: 5_000, to: 100_000 }, lower(-6), 500);
        const [from, to] = [6_000, 6_000 + length];
        const faded = changeSections(base, { from, to }, () => ({ kind: 'fade', way: into, shape }), 480);
        const [before, after] = [base.clips[0]!.curve, faded.clips[0]!.curve];
        const [whole, silent] = into === 'out' ? [from, to - 480] : [to, from + 480];
        expect(curveDbAt(after, silent)).toBe(SILENT_DB);
        for (let k = 1; k < 100; k++) {
          const at = silent + (k / 100) * (whole - silent);
          const gain = 20 * Math.log10(fadeAt(k / 100, shape));
          if (gain < -45) continue;
          expect(Math.abs(curveDbAt(after, at) - curveDbAt(before, at) - gain)).toBeLessThan(0.3);
        }
        for (const at of [0, 3_000, from, to, to + 10, 110_000])
          expect(curveDbAt(after, at)).toBeCloseTo(curveDbAt(before, at), 9);
        expect(after.length).toBeLessThan(30);
        // Done again it fades what is faded: no louder anywhere.
        const again = changeSections(faded, { from, to }, () => ({ kind: 'fade', way: into, shape }), 480);
        for (let at = from; at < to; at += 997)
          expect(curveDbAt(again.clips[0]!.curve, at)).toBeLessThan(curveDbAt(after, at) + 0.2);
      }),
      { numRuns: 40 },
    );
  });

  it('lowered many at once are as if lowered one after the other', () => {
    fc.assert(
      fc.property(
        clipArbitrary,
        fc.uniqueArray(fc.nat(30), { maxLength: 8 }),
        fc.double({ min: 0.1, max: 20, noNaN: true }),
        ({ curve }, at, db) => {
          const parts = at
            .sort((a, b) => a - b)
            .map((k) => ({
              from: 5_000 * k,
              start: 5_000 * k + 400,
              end: 5_000 * k + 4_000,
              to: 5_000 * k + 4_400,
              db: db / (1 + (k % 3)),
            }));
          const together = lowerParts(curve, parts);
          const oneByOne = parts.reduce((points, part) => lowerParts(points, [part]), curve);
          // What is silent or held at the least a curve can have stays so.
          fc.pre(curve.every((point) => point.db > -40));
          const eased = curve.some(({ shape }) => shape);
          const apart = Array.from({ length: 900 }, (_, i) => 173 * i - 1_000).map((x) => {
            const drop = parts.reduce(
              (sum, { from, start, end, to, db: most }) =>
                sum + most * Math.max(0, Math.min(1, (x - from) / (start - from), (to - x) / (to - end))),
              0,
            );
            const now = curveDbAt(together, x);
            // An eased segment stands as straight lines where a part begins within it.
            const law = eased ? 0 : now - (curveDbAt(curve, x) - drop);
            return Math.max(Math.abs(now - curveDbAt(oneByOne, x)), Math.abs(law));
          });
          expect(Math.max(...apart)).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('touch no other clip, and are nothing where a clip is not', () => {
    const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b', trackId: 't1' })]);
    const range = { from: 10_000, to: 20_000 };
    const after = changeSections(project, range, ({ id }) =>
      id === 'a' ? { kind: 'change', db: -3 } : null,
    );
    expect(after.clips[1]).toBe(project.clips[1]);
    expect(changeSections(project, { from: 900_000, to: 910_000 }, lower(-3))).toBe(project);
    expect(changeSections(project, { from: 10_000, to: 10_001 }, lower(-3))).toBe(project);
  });

  it('are moved as they are, and nothing else with them', () => {
    const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b', trackId: 't1' })]);
    const once = changeSections(project, { from: 20_000, to: 40_000 }, lower(-6), 500);
    const twice = changeSections(once, { from: 80_000, to: 90_000 }, lower(3), 500);
    const [first, second] = curveSections(twice.clips[0]!);
    const moved = moveSection(twice, 'a', first!, -2.5);
    expect(curveSections(moved.clips[0]!)).toEqual([{ from: 20_000, to: 40_000, db: -8.5 }, second]);
    expect(moved.clips[1]).toBe(twice.clips[1]);
    // Brought to 0 dB it is none any more; held at what a curve can have.
    expect(curveSections(moveSection(twice, 'a', first!, 6).clips[0]!)).toEqual([second]);
    expect(curveSections(moveSection(twice, 'a', second!, 99).clips[0]!)[1]!.db).toBe(48);
    // Where the clip's edge was moved into it, it is moved all the same.
    const cut = trimClips(twice, new Set(['a']), 'start', 30_000);
    const [rest] = curveSections(cut.clips[0]!);
    expect(curveSections(moveSection(cut, 'a', rest!, 1).clips[0]!)[0]).toEqual({ ...rest, db: -5 });
    const silent = changeSections(project, { from: 20_000, to: 40_000 }, () => ({ kind: 'silence' }), 500);
    expect(moveSection(silent, 'a', { from: 20_000, to: 40_000 }, 3).clips[0]!.curve).toEqual(
      silent.clips[0]!.curve,
    );
  });

  it('stay with the sound when a clip is split, trimmed, or its programme gets another rate', () => {
    const project = testProject([testClip({ id: 'a', start: 5_000, sourceStart: 1_000, length: 100_000 })]);
    const after = changeSections(project, { from: 30_000, to: 60_000 }, lower(-6), 960);
    const { curve } = after.clips[0]!;
    const split = splitClips(after, new Set(['a']), 45_000, () => 'b');
    expect(split.clips.map((clip) => clip.curve)).toEqual([curve, curve]);
    expect(trimClips(after, new Set(['a']), 'start', 40_000).clips[0]!.curve).toEqual(curve);
    const slower = setSampleRate(after, 44_100).clips[0]!;
    const centre = slower.sourceStart + (45_000 - 5_000) * (44_100 / 48_000);
    expect(curveDbAt(slower.curve, centre)).toBe(-6);
    expect(clearCurves(after, new Set(['a'])).clips[0]!.curve).toEqual([]);
  });
});

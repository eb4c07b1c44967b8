import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipArbitrary, testClip, testProject } from '@/core/testing/projects';
import { editSections } from './edits/sections';
import type { Project } from './model';
import {
  coveredBy,
  inProgramme,
  inSource,
  RAMP_SECONDS,
  sectionDb,
  sectionFrames,
  sectionSeconds,
} from './sections';

const RATE = 48_000;

describe('the part of a clip in a range', () => {
  it('is what both have in common, in seconds of the clip', () => {
    fc.assert(
      fc.property(clipArbitrary, fc.nat(600_000), fc.nat(300_000), (clip, from, length) => {
        const range = { from, to: from + length };
        const part = sectionSeconds(clip, range, RATE);
        const shared = Math.max(0, Math.min(range.to, clip.start + clip.length) - Math.max(from, clip.start));
        expect((part.to - part.from) * RATE).toBeCloseTo(shared, 6);
        expect(coveredBy([clip], range)).toHaveLength(shared >= 2 ? 1 : 0);
        expect(part.from).toBeGreaterThanOrEqual(0);
        expect(part.to * RATE).toBeLessThanOrEqual(clip.length + 1e-6);
        if (shared === 0) return;
        const back = sectionFrames(clip, part, RATE);
        expect(back.from).toBeCloseTo(Math.max(from, clip.start), 6);
        expect(back.to).toBeCloseTo(Math.min(range.to, clip.start + clip.length), 6);
        expect(inProgramme(clip, inSource(clip, from))).toBe(from);
      }),
    );
  });

  it('has one level while it is level throughout, ramps aside', () => {
    const project = testProject([testClip({ id: 'a', start: 1_000 })]);
    const range = { from: 20_000, to: 60_000 };
    const level = (of: Project, where = range): number | null =>
      sectionDb(of.clips[0]!, where, RAMP_SECONDS * RATE);
    expect(level(project)).toBe(0);
    const lower = editSections(project, [{ clipId: 'a', range, change: { kind: 'change', db: -4.5 } }]);
    expect(level(lower)).toBe(-4.5);
    expect(level(lower, { from: 30_000, to: 90_000 })).toBeNull();
    expect(level(lower, { from: 30_000, to: 40_000 })).toBe(-4.5);
    const set = editSections(lower, [{ clipId: 'a', range, change: { kind: 'set', db: 2 } }]);
    expect(level(set)).toBe(2);
    expect(level(project, { from: 900_000, to: 910_000 })).toBeNull();
  });

  it('is one of several that are changed at once, each as if alone', () => {
    const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b', trackId: 't1' })]);
    const edits = [
      { clipId: 'a', range: { from: 20_000, to: 40_000 }, change: { kind: 'change', db: -3 } },
      { clipId: 'b', range: { from: 10_000, to: 30_000 }, change: { kind: 'silence' } },
      { clipId: 'a', range: { from: 90_000, to: 99_000 }, change: { kind: 'set', db: 2 } },
    ] as const;
    const oneByOne = edits.reduce((state, edit) => editSections(state, [edit]), project);
    expect(editSections(project, edits)).toEqual(oneByOne);
    expect(editSections(project, [])).toBe(project);
  });
});

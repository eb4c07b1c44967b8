import fc from 'fast-check';
import { describe, expect, it, vi } from 'vitest';
import { curveDbAt } from '@/core/programme/curve';
import { doStep, startHistory } from '@/core/programme/history';
import type { Project } from '@/core/programme/model';
import { clipArbitrary, testClip, testProject } from '@/core/testing/projects';
import type { Session } from '../../session/session';
import { changePart, coveredBy, levelDbOf, partOf, withParts } from './sectionActions';

vi.mock('@/storage/preferences', () => ({
  getPreference: () => Promise.resolve(null),
  putPreference: () => Promise.resolve(),
}));

const RATE = 48_000;

/** A session of which only the steps are real. */
function sessionOf(project: Project) {
  let history = startHistory(project);
  const session = {
    do: (name: string, edit: (state: Project) => Project, merge: string | null = null) => {
      history = doStep(history, name, edit, merge);
    },
  } as unknown as Session;
  return { session, history: () => history };
}

describe('the part of a clip in a range', () => {
  it('is what both have in common, in seconds of the clip', () => {
    fc.assert(
      fc.property(clipArbitrary, fc.nat(600_000), fc.nat(300_000), (clip, from, length) => {
        const range = { from, to: from + length };
        const part = partOf(clip, range, RATE);
        const shared = Math.max(0, Math.min(range.to, clip.start + clip.length) - Math.max(from, clip.start));
        expect((part.to - part.from) * RATE).toBeCloseTo(shared, 6);
        expect(coveredBy([clip], range)).toHaveLength(shared >= 2 ? 1 : 0);
        expect(part.from).toBeGreaterThanOrEqual(0);
        expect(part.to * RATE).toBeLessThanOrEqual(clip.length + 1e-6);
      }),
    );
    expect(coveredBy([testClip({ id: 'a' })], null)).toEqual([]);
  });

  it('has one level while it is level throughout, ramps aside', () => {
    const project = testProject([testClip({ id: 'a', start: 1_000 })]);
    const range = { from: 20_000, to: 60_000 };
    const level = (of: Project, where = range): number | null => levelDbOf(of.clips[0]!, where, RATE);
    expect(level(project)).toBe(0);
    const lower = withParts(project, [{ clipId: 'a', range, change: { kind: 'change', db: -4.5 } }]);
    expect(level(lower)).toBe(-4.5);
    expect(level(lower, { from: 30_000, to: 90_000 })).toBeNull();
    expect(level(lower, { from: 30_000, to: 40_000 })).toBe(-4.5);
    const set = withParts(lower, [{ clipId: 'a', range, change: { kind: 'set', db: 2 } }]);
    expect(level(set)).toBe(2);
    expect(level(project, { from: 900_000, to: 910_000 })).toBeNull();
  });

  it('is changed in one step that says what was done, for the clips meant and no others', () => {
    const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b', trackId: 't1' })]);
    const { session, history } = sessionOf(project);
    const range = { from: 20_000, to: 60_000 };
    changePart(session, [project.clips[0]!], range, { kind: 'change', db: -3 });
    changePart(session, project.clips, range, { kind: 'silence' });
    changePart(session, project.clips, range, { kind: 'even' });
    changePart(session, [project.clips[1]!], range, { kind: 'set', db: 1.5 });
    expect(history().past.map(({ name }) => name)).toEqual([
      'Lower a part of a by 3.0 dB',
      'Silence a part of 2 clips',
      'Even out a part of 2 clips',
      'Set a part of b to +1.5 dB',
    ]);
    const [a, b] = history().project.clips;
    expect(a!.curve).toEqual([]);
    expect(curveDbAt(b!.curve, 40_000)).toBe(1.5);
  });

  it('pressed again and again in a burst is one step', () => {
    const project = testProject([testClip({ id: 'a' })]);
    const { session, history } = sessionOf(project);
    const range = { from: 20_000, to: 60_000 };
    for (let i = 0; i < 5; i++)
      changePart(session, project.clips, range, { kind: 'change', db: 0.5 }, 'burst');
    expect(history().past).toHaveLength(1);
    expect(levelDbOf(history().project.clips[0]!, range, RATE)).toBe(2.5);
  });
});

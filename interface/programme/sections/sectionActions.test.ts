import { describe, expect, it, vi } from 'vitest';
import { curveDbAt } from '@/core/programme/curve';
import { doStep, startHistory } from '@/core/programme/history';
import type { Project } from '@/core/programme/model';
import { testClip, testProject } from '@/core/testing/projects';
import type { Session } from '../../session/session';
import { changePart } from './sectionActions';

vi.mock('@/storage/preferences', () => ({
  getPreference: () => Promise.resolve(null),
  putPreference: () => Promise.resolve(),
}));

/** A session of which only the steps are real. */
function sessionOf(project: Project) {
  let history = startHistory(project);
  const session = {
    get state() {
      return { history };
    },
    get project() {
      return history.project;
    },
    notes: { tell: () => undefined, clear: () => undefined },
    do: (name: string, edit: (state: Project) => Project, merge: string | null = null) => {
      history = doStep(history, name, edit, merge);
    },
  } as unknown as Session;
  return { session, history: () => history };
}

describe('the part of a clip in a range', () => {
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
      'Remove the gain of a part of 2 clips',
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
    expect(history().past.map(({ name }) => name)).toEqual(['Raise a part of a by 2.5 dB']);
    expect(curveDbAt(history().project.clips[0]!.curve, 40_000)).toBe(2.5);
  });
});

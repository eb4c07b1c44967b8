import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { changeGain } from '@/core/programme/edits/gain';
import { doStep, startHistory, type History } from '@/core/programme/history';
import { ProjectFormatError, readProject } from '@/core/programme/migrations';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { fromStored, soundsIn, toStored } from './storedProject';

const raised = (history: History, id: string): History =>
  doStep(history, `Raise ${id}`, (project) =>
    changeGain(project, new Set([id]), { kind: 'change', db: 0.5 }),
  );

describe('a project as text', () => {
  afterEach(() => void vi.restoreAllMocks());

  it('is read as it was stored, whatever was done to it', () => {
    fc.assert(
      fc.property(clipsArbitrary, fc.array(fc.nat(5), { maxLength: 6 }), (made, choices) => {
        // Text knows no −0: it is the same gain.
        const clips = JSON.parse(JSON.stringify(made)) as typeof made;
        const start = startHistory({ ...testProject(clips), name: 'A “quoted” \\ “name”, ½ Ω 雪\u2028' });
        let history = start;
        // Stored after every step, as it is in use: texts of before are taken again.
        for (const choice of choices) {
          toStored(history);
          history = raised(history, clips[choice % Math.max(1, clips.length)]?.id ?? 'none');
        }
        const stored = structuredClone(toStored(history));
        expect(fromStored(stored)).toEqual(history);
        expect(readProject(fromStored(stored))).toEqual({ ...history, lost: null });
      }),
    );
  });

  it('is written anew only where it changed', () => {
    const clips = Array.from({ length: 500 }, (_, i) => testClip({ id: `c${i}` }));
    const history = raised(startHistory(testProject(clips)), 'c7');
    toStored(history);
    const next = raised(history, 'c8');
    const written = vi.spyOn(JSON, 'stringify');
    const { project, past } = toStored(next);
    const records = written.mock.calls.filter(([value]) => (value as { id?: string })?.id?.startsWith('c'));
    expect(records.map(([value]) => (value as { id: string }).id)).toEqual(['c8']);
    expect(past).toHaveLength(2);
    expect(JSON.parse(project)).toEqual(next.project);
  });

  it('that is cut short is refused; a step that is takes the history along, and no more', () => {
    const history = raised(startHistory(testProject([testClip({ id: 'a' })])), 'a');
    const stored = toStored(history);
    for (const at of [0, 1, 50, stored.project.length - 1])
      expect(() => readProject(fromStored({ ...stored, project: stored.project.slice(0, at) }))).toThrow(
        ProjectFormatError,
      );
    const odd = readProject(fromStored({ ...stored, past: [stored.past[0]!.slice(0, -2)] }));
    expect(odd).toMatchObject({ project: history.project, past: [], lost: /nothing can be undone/ });
  });

  it('of an earlier version is values, and read as they are', () => {
    const { project, past, future } = raised(startHistory(testProject([testClip({ id: 'a' })])), 'a');
    const stored = { project, past, future };
    expect(fromStored(stored)).toEqual(stored);
    for (const odd of [null, undefined, 'text', 7, []]) expect(fromStored(odd)).toEqual(odd);
  });

  it('names its sounds, in steps too, as text and as values', () => {
    const start = testProject();
    const source = { ...start.sources[0]!, audioKey: 'gone-1' };
    const history = doStep(startHistory({ ...start, sources: [source] }), 'Find', (project) => ({
      ...project,
      sources: [{ ...source, audioKey: 'here-2' }],
    }));
    for (const stored of [toStored(history), history])
      expect(new Set(soundsIn(stored))).toEqual(new Set(['gone-1', 'here-2']));
  });
});

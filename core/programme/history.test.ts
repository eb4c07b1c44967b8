import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { appendSources, moveClips, removeClips } from './edits/clips';
import { changeGain } from './edits/gain';
import { addTrack, changeTrack, removeSources, renameProject } from './edits/project';
import { doStep, HISTORY_LIMIT, redoStep, startHistory, undoStep, type Step } from './history';
import { readProject } from './migrations';
import { PLAIN_TRACK, type Project } from './model';

const edits: ((project: Project) => Project)[] = [
  (project) => changeGain(project, new Set([project.clips[0]?.id ?? '']), { kind: 'change', db: 1.5 }),
  (project) => moveClips(project, new Set([project.clips.at(-1)?.id ?? '']), 4711),
  (project) => removeClips(project, new Set([project.clips[0]?.id ?? ''])),
  (project) => appendSources(project, 't0', [{ clipId: `n${project.clips.length}`, sourceId: 's0' }]),
  (project) =>
    addTrack(project, {
      id: `t${project.tracks.length}`,
      name: 'More',
      role: 'effects',
      ...PLAIN_TRACK,
    }),
  (project) => changeTrack(project, 't0', { name: 'Voices' }),
  (project) => renameProject(project, `${project.name}!`),
  (project) => removeSources(project, new Set(['s3'])),
];

describe('history', () => {
  it('undoing everything gives back the beginning, redoing everything the end', () => {
    fc.assert(
      fc.property(clipsArbitrary, fc.array(fc.nat(edits.length - 1), { maxLength: 12 }), (clips, choices) => {
        const start = testProject(clips);
        let history = choices.reduce(
          (state, choice) => doStep(state, `edit ${choice}`, edits[choice]!),
          startHistory(start),
        );
        const end = history.project;
        while (history.past.length > 0) history = undoStep(history);
        expect(history.project).toEqual(start);
        while (history.future.length > 0) history = redoStep(history);
        expect(history.project).toEqual(end);
      }),
    );
  });

  it('survives being stored as plain data', () => {
    let history = doStep(startHistory(testProject([testClip({ id: 'a' })])), 'Change gain', edits[0]!);
    history = structuredClone(history);
    expect(undoStep(history).project.clips[0]!.gain.db).toBe(0);
  });

  it('an edit that changes nothing is no step', () => {
    const history = startHistory(testProject());
    expect(
      doStep(history, 'Nothing', (project) =>
        changeGain(project, new Set(['nobody']), { kind: 'set', db: 3 }),
      ),
    ).toBe(history);
    expect(undoStep(history)).toBe(history);
    expect(redoStep(history)).toBe(history);
  });

  it('a step on one of many clips holds what changed of that clip only', () => {
    const clips = Array.from({ length: 2000 }, (_, i) => testClip({ id: `c${i}` }));
    const history = doStep(startHistory(testProject(clips)), 'Set gain', (project) =>
      changeGain(project, new Set(['c7']), { kind: 'set', db: 1 }),
    );
    expect(history.past[0]!.redo).toHaveLength(1);
    expect(history.past[0]!.redo[0]!.path).toEqual(['clips', 7, 'gain']);
  });

  it('a step on a source holds all of it, so that its sound is known to be wanted', () => {
    const history = doStep(startHistory(testProject()), 'Find', (project) => ({
      ...project,
      sources: project.sources.with(0, { ...project.sources[0]!, audioKey: 'found' }),
    }));
    const [{ undo, redo }] = history.past as [Step];
    expect(undo).toEqual([{ op: 'replace', path: ['sources', 0], value: testProject().sources[0] }]);
    expect(redo[0]!.value).toMatchObject({ audioKey: 'found' });
  });

  it('a stored step is checked field by field', () => {
    const history = doStep(startHistory(testProject([testClip({ id: 'a' })])), 'Change gain', edits[0]!);
    expect(readProject(structuredClone(history))).toEqual({ ...history, lost: null });
    const bad = (value: unknown) => {
      const stored = structuredClone(history) as unknown as { past: [{ undo: [{ value: unknown }] }] };
      stored.past[0].undo[0].value = value;
      return readProject(stored).lost;
    };
    for (const value of ['loud', null, { db: Infinity, reason: null }, { db: 1 }])
      expect(bad(value)).toBe('The steps before could not be read; nothing can be undone.');
  });

  it('steps in a row with the same word are one', () => {
    const start = testProject([testClip({ id: 'a' })]);
    let history = doStep(startHistory(start), 'Raise', edits[0]!, 'key 1');
    history = doStep(history, 'Raise', edits[0]!, 'key 1');
    history = doStep(history, 'Raise', edits[0]!, 'key 2');
    expect(history.past).toHaveLength(2);
    expect(undoStep(history).project.clips[0]!.gain.db).toBe(3);
    expect(undoStep(undoStep(history)).project).toEqual(start);
    expect(redoStep(redoStep(undoStep(undoStep(history)))).project).toEqual(history.project);
  });

  it('is bounded, and a new step after undo ends the future', () => {
    let history = startHistory(testProject());
    for (let i = 0; i < HISTORY_LIMIT + 5; i++)
      history = doStep(history, 'Rename', (project) => renameProject(project, String(i)));
    expect(history.past).toHaveLength(HISTORY_LIMIT);
    history = doStep(undoStep(history), 'Other', (project) => renameProject(project, 'other'));
    expect(history.future).toEqual([]);
  });

  it('steps in a row that are one go back and on as they would one by one, and hold no place twice', () => {
    const many: ((project: Project) => Project)[] = [
      ...edits,
      (project) =>
        changeGain(project, new Set(project.clips.map(({ id }) => id)), { kind: 'change', db: -0.5 }),
      (project) => ({ ...project, clips: project.clips.toReversed() }),
    ];
    fc.assert(
      fc.property(clipsArbitrary, fc.array(fc.nat(many.length - 1), { maxLength: 12 }), (clips, choices) => {
        const start = testProject(clips);
        const history = choices.reduce(
          (state, choice) => doStep(state, 'edit', many[choice]!, 'held'),
          startHistory(start),
        );
        expect(undoStep(history).project).toEqual(start);
        expect(redoStep(undoStep(history)).project).toEqual(history.project);
        for (const { redo, undo } of history.past)
          for (const patches of [redo, undo])
            if (patches.every(({ op }) => op === 'replace'))
              expect(new Set(patches.map(({ path }) => path.join())).size).toBe(patches.length);
      }),
    );
  });

  it('a key held down on many clips holds each of them once', () => {
    const clips = Array.from({ length: 50 }, (_, i) => testClip({ id: `c${i}` }));
    const all = new Set(clips.map(({ id }) => id));
    let history = startHistory(testProject(clips));
    for (let i = 0; i < 20; i++)
      history = doStep(
        history,
        'Raise',
        (project) => changeGain(project, all, { kind: 'change', db: 0.5 }),
        'held',
      );
    expect(history.past).toHaveLength(1);
    expect(history.past[0]!.redo).toHaveLength(50);
    expect(history.past[0]!.undo).toHaveLength(50);
    expect(history.project.clips[49]!.gain.db).toBe(10);
    expect(undoStep(history).project).toEqual(testProject(clips));
  });
});

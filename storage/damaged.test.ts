import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { renameProject } from '@/core/programme/edits/project';
import { doStep, redoStep, startHistory, undoStep, type History } from '@/core/programme/history';
import { ProjectFormatError } from '@/core/programme/migrations';
import { SPEECH_FIRST } from '@/core/programme/plan';
import { programmeFrames } from '@/core/programme/model';
import { EBU_R128 } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';

// localForage looks at the browser's name when it is loaded.
vi.stubGlobal('navigator', { userAgent: 'node' });
const { asideStore, projectStore, settingsStore, shelfStore } = await import('./stores');
const projects = await import('./projects');
const { deleteOwnTarget, listOwnTargets, saveOwnTarget } = await import('./targets');
const { ownPlans } = await import('./presets');

beforeAll(() => projectStore.keys());
beforeEach(async () => {
  for (const store of [projectStore, settingsStore, shelfStore, asideStore]) await store.clear();
});

const clips = [testClip({ id: 'a' }), testClip({ id: 'b', start: 300_000 })];
const worked = (): History =>
  doStep(
    doStep(startHistory(testProject(clips)), 'Rename', (project) => renameProject(project, 'Renamed')),
    'Gain',
    (project) => ({
      ...project,
      clips: project.clips.map((clip) => ({ ...clip, gain: { ...clip.gain, db: 3 } })),
    }),
  );

type Plain = Record<string, unknown>;

/** Every place in a value, as a path. */
function places(value: unknown, path: readonly string[] = []): string[][] {
  if (typeof value !== 'object' || value === null) return [[...path]];
  const inner = Object.entries(value).flatMap(([key, one]) => places(one, [...path, key]));
  return path.length === 0 ? inner : [[...path], ...inner];
}

function withValue(value: unknown, [key, ...path]: readonly string[], put: unknown): unknown {
  if (key === undefined) return put;
  if (Array.isArray(value))
    return value.map((one, i) => (String(i) === key ? withValue(one, path, put) : one));
  return { ...(value as Plain), [key]: withValue((value as Plain)[key], path, put) };
}

const ODD = [null, undefined, 'odd', -1, Number.NaN, Infinity, 1e300, {}, [], true, [null], { id: 7 }];

describe('records of the shelf', () => {
  it('one bad record takes nothing else along', async () => {
    await projects.saveProject(worked());
    const good = (await shelfStore.getItem<Plain>('p'))!;
    for (const [i, odd] of [
      null,
      'text',
      7,
      { ...good, id: 'x2', modifiedAt: 1e300 },
      { ...good, name: {} },
    ].entries())
      await shelfStore.setItem(`bad ${i}`, odd);
    const { entries, unreadable } = await projects.listProjects();
    expect(entries.map(({ id }) => id)).toEqual(['p']);
    expect(unreadable.map(({ id }) => id).sort()).toEqual(['bad 0', 'bad 1', 'bad 2', 'bad 3', 'bad 4']);
    for (const { why } of unreadable) expect(why).toMatch(/\S.*\.$/);
    expect(JSON.parse(await projects.projectAsKept('bad 1'))).toEqual({ entry: 'text' });
    await projects.deleteProject('bad 1');
    expect((await projects.listProjects()).unreadable).toHaveLength(4);
  });

  it('is made anew from its project where that can be read, or where it is gone', async () => {
    await projects.saveProject(worked());
    for (const bad of [{ name: null }, undefined]) {
      if (bad) await shelfStore.setItem('p', bad);
      else await shelfStore.removeItem('p');
      const { entries, unreadable } = await projects.listProjects();
      expect(unreadable).toEqual([]);
      expect(entries).toMatchObject([{ id: 'p', name: 'Renamed', clips: 2 }]);
      await projects.binProject('p');
      expect((await projects.listProjects()).entries[0]!.deletedAt).toBeGreaterThan(0);
    }
  });

  it('a project in the bin stays there when it is saved', async () => {
    await projects.saveProject(worked());
    await projects.binProject('p');
    await projects.saveProject(worked());
    expect((await projects.listProjects()).entries[0]!.deletedAt).not.toBeNull();
  });
});

describe('damaged projects', () => {
  it('any value of one that is odd is refused with a reason, or does no harm', async () => {
    const whole = worked();
    const stored = { project: whole.project, past: whole.past, future: whole.future };
    const all = places(stored);
    expect(all.length).toBeGreaterThan(150);
    for (const [i, path] of all.entries())
      for (const [k, odd] of ODD.entries()) {
        // The history holds the same records over again: each of its places is tried with some of the values.
        if (path[0] !== 'project' && (i + k) % 4 !== 0) continue;
        await projectStore.setItem('p', withValue(stored, path, odd));
        let loaded;
        try {
          loaded = (await projects.loadProject('p'))!;
        } catch (error) {
          expect(error, path.join('.')).toBeInstanceOf(ProjectFormatError);
          expect((error as Error).message).toMatch(/\S.*\.$/);
          continue;
        }
        // What is opened can be worked with: drawn, judged, undone and done again.
        const { history } = loaded;
        expect(Number.isFinite(programmeFrames(history.project))).toBe(true);
        expect(verdictOf({ ...NO_FIGURES }, history.project.target).figures.length).toBeGreaterThan(1);
        let back = history;
        while (back.past.length > 0) back = undoStep(back);
        while (back.future.length > 0) back = redoStep(back);
        doStep(back, 'Again', (project) => renameProject(project, 'again'));
      }
  }, 120_000);

  it('a history that makes no sense is kept aside, and the project opens without it', async () => {
    const { project } = worked();
    const stored = { project, past: [{ name: 'Odd', redo: 'x', undo: [], merge: null }], future: [] };
    await projectStore.setItem('p', stored);
    const { history, lost } = (await projects.loadProject('p'))!;
    expect(history).toMatchObject({ project: { name: 'Renamed' }, past: [], future: [] });
    expect(lost).toMatch(/nothing can be undone/);
    const [key] = await asideStore.keys();
    expect(await asideStore.getItem(key!)).toEqual(stored);
  });

  it('every project that is made opens again', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, async (made) => {
        // Text knows no −0: it is the same gain.
        const clips = JSON.parse(JSON.stringify(made)) as typeof made;
        const history = startHistory(testProject(clips));
        await projects.saveProject(history);
        const loaded = (await projects.loadProject('p'))!;
        expect(loaded).toEqual({ history, lost: null });
      }),
      { numRuns: 40 },
    );
  });

  it('go out as a file and come in again', async () => {
    const whole = worked();
    const text = projects.projectFile({ project: whole.project, past: whole.past, future: whole.future });
    await projects.addProjectFile(text, 'q', (name) => `${name} 2`);
    const { history } = (await projects.loadProject('q'))!;
    expect(history.project.name).toBe('Renamed 2');
    expect(undoStep(history).project.clips[0]!.gain.db).toBe(0);
    for (const bad of ['', '{}', 'null', '{"project":{"schema":5}}'])
      await expect(projects.addProjectFile(bad, 'r', (name) => name)).rejects.toBeInstanceOf(
        ProjectFormatError,
      );
    expect((await projects.listProjects()).entries.map(({ id }) => id)).toEqual(['q']);
  });
});

describe('own targets and plans', () => {
  it('that cannot be read are kept, and the others stand', async () => {
    const odd = [null, { ...EBU_R128, integratedLufs: 'loud' }, 7];
    await settingsStore.setItem('own-targets', [...odd, EBU_R128]);
    expect(await listOwnTargets()).toEqual({ items: [EBU_R128], unreadable: odd });
    await saveOwnTarget({ ...EBU_R128, id: 'mine' });
    await deleteOwnTarget('mine');
    expect((await listOwnTargets()).unreadable).toEqual(odd);
    await settingsStore.setItem('own-plans', 'not even a list');
    await ownPlans.save(SPEECH_FIRST);
    expect(await ownPlans.list()).toEqual({ items: [SPEECH_FIRST], unreadable: ['not even a list'] });
  });
});

const NO_FIGURES = {
  integratedLufs: null,
  relativeGateLufs: null,
  maxMomentaryLufs: null,
  maxShortTermLufs: null,
  loudnessRangeLu: null,
  truePeakDbtp: null,
  samplePeakDbfs: null,
  channelPeaks: [],
};

import 'fake-indexeddb/auto';
import { beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { doStep, startHistory, undoStep } from '@/core/programme/history';
import { renameProject } from '@/core/programme/edits/project';
import { testClip, testProject } from '@/core/testing/projects';
import { EBU_R128 } from '@/core/check/shipped';

// localForage looks at the browser's name when it is loaded.
vi.stubGlobal('navigator', { userAgent: 'node' });
const { audioStore, measurementStore, projectStore, settingsStore, shelfStore } = await import('./stores');
const { getAudio, newAudioKey, putAudio, removeAudioExcept } = await import('./audio');
const projects = await import('./projects');
const { getClipMeasurement, getSourceMeasurement, putSourceMeasurement } = await import('./measurements');
const { deleteOwnTarget, listOwnTargets, saveOwnTarget } = await import('./targets');
const { storageError } = await import('./failure');

const never = new AbortController().signal;
const OLD_KEY = `${(Date.now() - 9_000_000).toString(36)}-old`;

beforeAll(() => audioStore.keys());
beforeEach(async () => {
  for (const store of [audioStore, measurementStore, projectStore, settingsStore, shelfStore])
    await store.clear();
});

describe('projects', () => {
  const history = () =>
    doStep(startHistory(testProject([testClip({ id: 'a' })])), 'Rename', (project) =>
      renameProject(project, 'Renamed'),
    );

  it('come back with their history', async () => {
    await projects.saveProject(history());
    const { history: loaded } = (await projects.loadProject('p'))!;
    expect(loaded.project.name).toBe('Renamed');
    expect(undoStep(loaded).project.name).toBe('Test');
    expect(await projects.loadProject('nobody')).toBeNull();
  });

  it('stand on the shelf, in the bin, and back again', async () => {
    await projects.saveProject(history());
    expect((await projects.listProjects()).entries).toMatchObject([
      { id: 'p', name: 'Renamed', clips: 1, lengthSeconds: 4, deletedAt: null },
    ]);
    await projects.binProject('p');
    expect((await projects.listProjects()).entries[0]!.deletedAt).toBeGreaterThan(0);
    await projects.restoreProject('p');
    expect((await projects.listProjects()).entries[0]!.deletedAt).toBeNull();
  });

  it('are duplicated under another name', async () => {
    await projects.saveProject(history());
    await projects.duplicateProject('p', 'q', 'Copy');
    expect((await projects.loadProject('q'))!.history.project).toMatchObject({ id: 'q', name: 'Copy' });
    expect((await projects.listProjects()).entries.map((entry) => entry.name).sort()).toEqual([
      'Copy',
      'Renamed',
    ]);
  });

  it('of a newer version are refused', async () => {
    await projectStore.setItem('p', { project: { schema: 99 }, past: [], future: [] });
    await expect(projects.loadProject('p')).rejects.toThrow(/newer version/);
  });

  it('deleted for good take their sound along, but none that another uses, even only in its history', async () => {
    const shared = {
      ...testProject(),
      sources: testProject().sources.map((source) => ({ ...source, audioKey: OLD_KEY })),
    };
    await putAudio(OLD_KEY, new Blob(['sound']), never, () => undefined);
    await projects.saveProject(startHistory(shared));
    await projects.saveProject(
      doStep(startHistory({ ...shared, id: 'q' }), 'Empty', (project) => ({ ...project, sources: [] })),
    );
    await projects.deleteProject('p');
    expect(await getAudio(OLD_KEY)).not.toBeNull();
    await projects.deleteProject('q');
    expect(await getAudio(OLD_KEY)).toBeNull();
    expect(await projects.listProjects()).toEqual({ entries: [], unreadable: [] });
  });
});

describe('sound', () => {
  it('is kept and comes back whole', async () => {
    const progress: number[] = [];
    const blob = new Blob([new Uint8Array(1000).fill(7)]);
    expect(await putAudio('k', blob, never, (done) => progress.push(done))).toBe(true);
    expect(progress).toEqual([1]);
    expect(new Uint8Array(await (await getAudio('k'))!.arrayBuffer())).toEqual(new Uint8Array(1000).fill(7));
    expect(await getAudio('nothing')).toBeNull();
  });

  it('cancelled leaves nothing behind', async () => {
    const controller = new AbortController();
    controller.abort();
    expect(await putAudio('k', new Blob(['x']), controller.signal, () => undefined)).toBe(false);
    expect(await audioStore.keys()).toEqual([]);
  });

  it('that lacks a piece counts as missing', async () => {
    await audioStore.setItem('k', { pieces: 2, size: 10 });
    await audioStore.setItem('k/0', new Blob(['12345']));
    expect(await getAudio('k')).toBeNull();
  });

  it('that has just come in is not swept away', async () => {
    const fresh = newAudioKey('new');
    await putAudio(fresh, new Blob(['x']), never, () => undefined);
    await putAudio(OLD_KEY, new Blob(['x']), never, () => undefined);
    await removeAudioExcept(new Set());
    expect(await getAudio(fresh)).not.toBeNull();
    expect(await getAudio(OLD_KEY)).toBeNull();
  });
});

describe('sound that no project names', () => {
  it('goes; what a project names stays, were it in a step of its history only', async () => {
    const keys = ['1-now', '1-step', '1-nobody'];
    for (const key of keys) await putAudio(key, new Blob([key]), never, () => undefined);
    const source = (audioKey: string) => ({ audioKey });
    await projectStore.setItem('a', {
      project: { sources: [source('1-now')] },
      past: [{ name: 'Remove', undo: [{ path: ['sources', 0], value: source('1-step') }], redo: [] }],
      future: [],
    });
    await projects.removeOrphans();
    expect(await Promise.all(keys.map(async (key) => (await getAudio(key)) !== null))).toEqual([
      true,
      true,
      false,
    ]);
  });
});

describe('measurements and settings', () => {
  it('of another version are made anew', async () => {
    const value = { figures: {}, overview: { levels: [] }, truePeaks: new Float32Array(2) } as never;
    await putSourceMeasurement('k/source/mono', value);
    expect(await getSourceMeasurement('k/source/mono')).toEqual(value);
    await measurementStore.setItem('k/0/9', { version: -1, value: {} });
    expect(await getClipMeasurement('k/0/9')).toBeNull();
  });

  it('own targets are kept, changed in place, deleted', async () => {
    const mine = { ...EBU_R128, id: 'mine', name: 'Mine', source: 'your own' };
    await saveOwnTarget(mine);
    await saveOwnTarget({ ...mine, id: 'other' });
    await saveOwnTarget({ ...mine, name: 'Changed' });
    expect((await listOwnTargets()).items.map((target) => target.name)).toEqual(['Changed', 'Mine']);
    expect((await deleteOwnTarget('mine')).map((target) => target.id)).toEqual(['other']);
  });
});

describe('trouble with storage', () => {
  it('says when it is full, and when it cannot be used', () => {
    expect(storageError(new DOMException('x', 'QuotaExceededError'))).toMatchObject({
      code: 'full',
      hint: expect.stringMatching(/Delete projects/) as string,
    });
    expect(storageError(new Error('no'))).toMatchObject({ code: 'unavailable' });
  });
});

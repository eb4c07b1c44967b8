import { beforeEach, describe, expect, it, vi } from 'vitest';
import { doStep, startHistory, type History } from '@/core/programme/history';
import { testProject } from '@/core/testing/projects';
import { Saving } from './saving';
import type { Failure } from '@/engine/protocol';
import type { SaveState } from './state';

const store = vi.hoisted(() => ({ saveProject: vi.fn() }));
vi.mock('@/storage/projects', () => store);

const named = (history: History, name: string): History =>
  doStep(history, name, (project) => ({ ...project, name }));

describe('saving a project', () => {
  beforeEach(() => store.saveProject.mockReset());

  const setup = () => {
    let history = startHistory(testProject());
    const states: SaveState[] = [];
    let fault: Failure | null = null;
    const saving: Saving = new Saving({
      history: () => history,
      onSave: (save) => states.push(save),
      fault: () => Promise.resolve(fault),
    });
    const step = (name: string): void => {
      history = named(history, name);
      saving.save();
    };
    const kept = (): string[] =>
      (store.saveProject.mock.calls as [History][]).map(([{ project }]) => project.name);
    return { saving, states, step, kept, setFault: (to: Failure | null) => (fault = to) };
  };

  it('keeps what comes while it is being kept next, and only the last of it', async () => {
    const { saving, states, step, kept } = setup();
    let release = (): void => undefined;
    store.saveProject.mockImplementationOnce(() => new Promise<void>((resolve) => (release = resolve)));
    store.saveProject.mockResolvedValue(undefined);
    step('one');
    step('two');
    step('three');
    release();
    await saving.settled();
    expect(kept()).toEqual(['one', 'three']);
    expect(states).toEqual(['saving', 'saved']);
  });

  it('does not say that it is saved while it could not be opened again', async () => {
    const { saving, states, step, setFault } = setup();
    store.saveProject.mockResolvedValue(undefined);
    const lost = { code: 'soundLost', message: 'Gone.', hint: 'Relink.' } as const;
    setFault(lost);
    step('one');
    await saving.settled();
    setFault(null);
    step('two');
    await saving.settled();
    expect(states).toEqual(['saving', lost, 'saving', 'saved']);
  });

  it('loses nothing that comes just as it ends', async () => {
    const { saving, states, step, kept } = setup();
    store.saveProject.mockResolvedValue(undefined);
    step('one');
    // In the same breath in which the first is told to be kept.
    const late = vi.spyOn(states, 'push').mockImplementation((state) => {
      if (state === 'saved' && kept().length === 1) step('two');
      return 0;
    });
    await saving.settled();
    late.mockRestore();
    await vi.waitFor(() => expect(kept()).toEqual(['one', 'two']));
  });

  it('says why it could not, and keeps it when asked again', async () => {
    const { saving, states, step, kept } = setup();
    store.saveProject.mockRejectedValueOnce(new Error('The disk is full.'));
    store.saveProject.mockResolvedValue(undefined);
    step('one');
    await saving.settled();
    expect(states.at(-1)).toHaveProperty('message');
    expect(kept()).toEqual(['one']);
    saving.save();
    await saving.settled();
    expect(states.at(-1)).toBe('saved');
    expect(kept()).toEqual(['one', 'one']);
  });
});

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { startHistory } from '@/core/programme/history';
import { testProject } from '@/core/testing/projects';
import { allUnsaved, holdUnsaved, keepTrying, letGo, takeUnsaved } from './unsaved';

const store = vi.hoisted(() => ({ saveProject: vi.fn() }));
vi.mock('@/storage/projects', () => store);

describe('what was left unsaved', () => {
  const history = startHistory(testProject());
  const newLock = () => ({ release: vi.fn(), passTo: vi.fn() });
  beforeEach(() => {
    vi.useFakeTimers();
    store.saveProject.mockReset();
  });
  afterEach(() => {
    takeUnsaved('p');
    vi.useRealTimers();
  });

  it('is said only once it could not be saved', () => {
    const lock = newLock();
    holdUnsaved('p', history, lock);
    expect(allUnsaved()).toEqual([]);
    letGo('p', lock);
    expect(lock.release).toHaveBeenCalledTimes(1);
    expect(takeUnsaved('p')).toBeNull();
  });

  it('is tried again until it is saved, and then let go', async () => {
    const lock = newLock();
    store.saveProject.mockRejectedValueOnce(new Error('Full.')).mockResolvedValue(undefined);
    holdUnsaved('p', history, lock);
    keepTrying('p', lock);
    expect(allUnsaved()).toEqual([history]);
    await vi.advanceTimersByTimeAsync(10_000);
    expect(store.saveProject).toHaveBeenCalledTimes(1);
    expect(allUnsaved()).toEqual([history]);
    expect(lock.release).not.toHaveBeenCalled();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(allUnsaved()).toEqual([]);
    expect(lock.release).toHaveBeenCalledTimes(1);
  });

  it('is not touched any more once somebody has taken it back', async () => {
    const lock = newLock();
    holdUnsaved('p', history, lock);
    keepTrying('p', lock);
    expect(takeUnsaved('p')).toMatchObject({ history, lock, failed: true });
    await vi.advanceTimersByTimeAsync(60_000);
    expect(store.saveProject).not.toHaveBeenCalled();
    letGo('p', lock);
    expect(lock.release).not.toHaveBeenCalled();
  });
});

import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ProgrammeLevels } from '@/core/measuring/movingFigures';
import type { Project } from '@/core/programme/model';
import type { Moving } from '@/core/measuring/moving';
import { emptySums } from '@/core/measuring/movingSums';
import { testClip, testProject } from '@/core/testing/projects';
import { MovingLevels } from './movingLevels';

const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b' })]);
const levels: ProgrammeLevels = {
  energy: new Float64Array(200).fill(1),
  sampleRate: 48_000,
  truePeaks: new Float32Array(40).fill(0.1),
};
const byGain = (id: string): Moving => ({ kind: 'gain', ids: new Set([id]) });
const a = byGain('a');

describe('sums for what is likely to be moved', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  const setup = () => {
    const take = vi.fn((_: Project, __: Moving) =>
      Promise.resolve({ ok: emptySums({ kind: 'gain' }, 0, 200, 40, 2) }),
    );
    return { take, moving: new MovingLevels(take) };
  };

  it('are taken once a choice has stood for a moment, and once only', async () => {
    const { take, moving } = setup();
    moving.want(project, levels, byGain('b'));
    moving.want(project, levels, a);
    moving.want(project, levels, byGain('a'));
    await vi.runAllTimersAsync();
    expect(take).toHaveBeenCalledTimes(1);
    expect(take).toHaveBeenCalledWith(project, a);
    expect(moving.figures(project, a)!.at(0).integratedLufs).toBeNull();
    expect(moving.figures(project, byGain('b'))).toBeNull();
    expect(moving.figures(testProject(), a)).toBeNull();
  });

  it('are taken at once when a hand is on them, and not again with every movement', async () => {
    const { take, moving } = setup();
    moving.want(project, levels, a);
    for (let i = 0; i < 5; i++) moving.want(project, levels, a, 'now');
    expect(take).toHaveBeenCalledTimes(1);
    await vi.runAllTimersAsync();
    for (let i = 0; i < 5; i++) moving.want(project, levels, a, 'now');
    expect(take).toHaveBeenCalledTimes(1);
    expect(moving.figures(project, a)).not.toBeNull();
  });

  it('of what has changed meanwhile are dropped; nothing is taken while the programme is not measured', async () => {
    const { take, moving } = setup();
    moving.want(project, levels, a, 'now');
    const changed = testProject([testClip({ id: 'a' })]);
    moving.want(changed, levels, a);
    await Promise.resolve();
    expect(moving.figures(project, a)).toBeNull();
    moving.close();
    moving.want(null, null, a, 'now');
    await vi.runAllTimersAsync();
    expect(take).toHaveBeenCalledTimes(1);
  });

  it('of what is under the pointer come before those of what is selected, which follow; both are held', async () => {
    const { take, moving } = setup();
    moving.want(project, levels, a);
    moving.want(project, levels, byGain('b'), 'near');
    moving.want(project, levels, a);
    await vi.runAllTimersAsync();
    expect(take.mock.calls.map((call) => call[1])).toEqual([byGain('b'), a]);
    expect(moving.figures(project, a)).not.toBeNull();
    expect(moving.figures(project, byGain('b'))).not.toBeNull();
  });
});

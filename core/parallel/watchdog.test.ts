import { describe, expect, it } from 'vitest';
import { GivenUp, measurePace, watch, type WatchedJob, type WatchRules } from './watchdog';

/** A job that never ends by itself, and a clock that is turned by the test. */
function watched(rules: Partial<WatchRules> = {}, job: Partial<WatchedJob<string>> = {}) {
  let look = (): void => undefined;
  let [heard, finish] = [() => undefined as void, (_: string) => undefined as void];
  let ended = 0;
  const work = watch<string>(
    {
      every: (_, each) => {
        look = each;
        return () => (look = () => undefined);
      },
      patience: 20,
      ...rules,
    },
    {
      start: (alive) => {
        heard = alive;
        return new Promise((resolve) => (finish = resolve));
      },
      end: () => void ended++,
      ...job,
    },
  );
  work.catch(() => undefined);
  const ticks = async (count: number): Promise<void> => {
    for (let i = 0; i < count; i++) {
      look();
      for (let step = 0; step < 5; step++) await Promise.resolve();
    }
  };
  return { work, ticks, heard: () => heard(), finish: (of: string) => finish(of), ended: () => ended };
}

describe('a job that is watched', () => {
  it('is ended where it makes no progress', async () => {
    const { work, ticks, ended } = watched();
    await ticks(20);
    expect(ended()).toBe(0);
    await ticks(1);
    await expect(work).rejects.toEqual(new GivenUp('silent'));
    expect(ended()).toBe(1);
  });

  it('goes on for as long as it makes progress, however long that takes', async () => {
    const { work, ticks, heard, finish, ended } = watched();
    for (let i = 0; i < 50; i++) {
      await ticks(19);
      heard();
    }
    finish('done');
    expect(await work).toBe('done');
    expect(ended()).toBe(0);
  });

  it('is not taken for stuck on a busy machine: its patience is work the machine could have done', async () => {
    const busy = watched({ pace: () => Promise.resolve(0.05) });
    await busy.ticks(200);
    expect(busy.ended()).toBe(0);
    await busy.ticks(60);
    await expect(busy.work).rejects.toEqual(new GivenUp('silent'));
    const idle = watched({ pace: () => Promise.resolve(1) });
    await idle.ticks(25);
    await expect(idle.work).rejects.toEqual(new GivenUp('silent'));
  });

  it('is ended in the end where the pace cannot be found out either', async () => {
    const { work, ticks } = watched({ pace: () => new Promise(() => undefined) });
    await ticks(90);
    const refused = watched({ pace: () => Promise.reject(new Error('no worker')) });
    await ticks(30);
    await expect(work).rejects.toEqual(new GivenUp('silent'));
    await refused.ticks(120);
    await expect(refused.work).rejects.toEqual(new GivenUp('silent'));
  });

  it('ends as cancelled at once where it heeds that, else after a few looks', async () => {
    const controller = new AbortController();
    const { work, ticks, ended } = watched({}, { signal: controller.signal });
    await ticks(10);
    controller.abort();
    await ticks(2);
    expect(ended()).toBe(0);
    await ticks(1);
    await expect(work).rejects.toEqual(new GivenUp('cancelled'));
    expect(ended()).toBe(1);
    await expect(
      watch<string>(
        { every: () => () => undefined },
        { start: () => Promise.resolve('begun'), signal: controller.signal, end: () => undefined },
      ),
    ).rejects.toEqual(new GivenUp('cancelled'));
  });
});

describe('the pace of a machine', () => {
  it('is whole where every turn takes as long, and a share where some are held up', () => {
    const clock = (turns: (i: number) => number): (() => number) => {
      let [at, asked] = [0, 0];
      // Asked at the start, then before and after each turn.
      return () => {
        const now = at;
        if (asked > 0 && asked % 2 === 1) at += turns(asked >> 1);
        asked++;
        return now;
      };
    };
    expect(measurePace(clock(() => 1))).toBeCloseTo(1, 5);
    expect(measurePace(clock((i) => (i === 0 ? 1 : 10)))).toBeLessThan(0.2);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Pool, type PoolRules } from './pool';
import { GivenUp } from './watchdog';

/** Workers that are numbers, and a clock that is turned by the test. */
function made(rules: Partial<PoolRules<number>> = {}) {
  const looks = new Set<() => void>();
  const ended: number[] = [];
  let hired = 0;
  const pool = new Pool<number>({
    most: 2,
    hire: () => ++hired,
    end: (worker) => ended.push(worker),
    every: (_, look) => {
      looks.add(look);
      return () => looks.delete(look);
    },
    patience: 3,
    ...rules,
  });
  const tick = (): void => [...looks].forEach((look) => look());
  return { pool, ended, tick, looks, hired: () => hired };
}

const never = new Promise<never>(() => undefined);
const settled = async (): Promise<void> => {
  for (let i = 0; i < 5; i++) await Promise.resolve();
};

describe('a pool of workers', () => {
  it('does all work, never more at a time than there are workers, whatever fails', () =>
    fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 1, max: 4 }),
        fc.array(fc.record({ group: fc.option(fc.nat(3)), fails: fc.boolean() }), { maxLength: 20 }),
        async (most, works) => {
          const { pool, hired } = made({ most });
          let running = 0;
          const done = works.map(({ group, fails }, index) =>
            pool.run({
              group,
              start: async () => {
                expect(++running).toBeLessThanOrEqual(most);
                await settled();
                running--;
                if (fails) throw new Error(`${index}`);
                return index;
              },
            }),
          );
          const results = await Promise.allSettled(done);
          results.forEach((result, index) => {
            if (works[index]!.fails) expect(result).toMatchObject({ reason: new Error(`${index}`) });
            else expect(result).toMatchObject({ value: index });
          });
          expect(hired()).toBeLessThanOrEqual(Math.min(most, works.length));
        },
      ),
    ));

  it('ends a worker of which nothing is heard, and goes on with another one', async () => {
    const { pool, ended, tick, looks } = made({ most: 1 });
    const silent = pool.run({ group: 1, start: () => never });
    const after = pool.run({ group: 2, start: (worker) => Promise.resolve(worker) });
    await settled();
    for (let i = 0; i < 4; i++) tick();
    await expect(silent).rejects.toEqual(new GivenUp('silent'));
    expect(await after).toBe(2);
    expect(ended).toEqual([1]);
    expect(looks.size).toBe(0);
  });

  it('waits as long as something is heard', async () => {
    const { pool, ended, tick } = made();
    let finish = (_: string): void => undefined;
    let heard = (): void => undefined;
    const work = pool.run({
      group: 1,

      start: (_, alive) => {
        heard = alive;
        return new Promise<string>((resolve) => (finish = resolve));
      },
    });
    await settled();
    for (let i = 0; i < 20; i++) {
      tick();
      if (i % 3 === 2) heard();
    }
    finish('done');
    expect(await work).toBe('done');
    expect(ended).toEqual([]);
  });

  it('cancels what waits at once, what runs by asking, and ends a worker that does not heed it', async () => {
    const { pool, ended, tick } = made({ most: 1 });
    const asked: number[] = [];
    const [running, waiting] = [new AbortController(), new AbortController()];
    const cancel = (worker: number): void => void asked.push(worker);
    const first = pool.run({ group: 1, signal: running.signal, start: () => never, cancel });
    const second = pool.run({ group: 1, signal: waiting.signal, start: () => never, cancel });
    await settled();
    waiting.abort();
    await expect(second).rejects.toEqual(new GivenUp('cancelled'));
    running.abort();
    expect(asked).toEqual([1]);
    for (let i = 0; i < 3; i++) tick();
    await expect(first).rejects.toEqual(new GivenUp('cancelled'));
    expect(ended).toEqual([1]);
  });

  it('a worker that heeds a cancel is used again', async () => {
    const { pool, ended, tick, looks } = made({ most: 1 });
    const controller = new AbortController();
    let stop = (_: string): void => undefined;
    const work = pool.run({
      group: 1,
      signal: controller.signal,
      start: () => new Promise<string>((resolve) => (stop = resolve)),
      cancel: () => stop('stopped'),
    });
    await settled();
    controller.abort();
    tick();
    expect(await work).toBe('stopped');
    expect(await pool.run({ group: 1, start: (worker) => Promise.resolve(worker) })).toBe(1);
    expect([ended, looks.size]).toEqual([[], 0]);
  });

  it('that is closed gives up what waits, hires nobody any more, and takes nothing else', async () => {
    const { pool, ended, hired } = made({ most: 1 });
    const running = pool.run({ group: 1, start: () => never });
    const waiting = pool.run({ group: 1, start: () => Promise.resolve('done') });
    running.catch(() => undefined);
    await settled();
    pool.close();
    await expect(waiting).rejects.toEqual(new GivenUp('cancelled'));
    await expect(pool.run({ group: 1, start: () => Promise.resolve('late') })).rejects.toEqual(
      new GivenUp('cancelled'),
    );
    expect([ended, hired()]).toEqual([[1], 1]);
  });
});

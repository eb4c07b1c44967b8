import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FairQueue } from './fairQueue';

function queueOf(groups: readonly (number | null)[]) {
  const queue = new FairQueue<string[]>();
  groups.forEach((group, i) =>
    queue.add(group, { run: (log) => Promise.resolve(void log.push(`${group ?? 'now'}.${i}`)) }),
  );
  return queue;
}

async function drained(queue: FairQueue<string[]>): Promise<string[]> {
  const log: string[] = [];
  while (!queue.isEmpty) await queue.take()!.run(log);
  return log;
}

describe('work that waits', () => {
  it('groups take turns, what is urgent goes first', async () => {
    const log = await drained(queueOf([1, 1, 1, 2, null, 3, 3, null]));
    expect(log).toEqual(['now.4', 'now.7', '1.0', '2.3', '3.5', '1.1', '3.6', '1.2']);
  });

  it('everything is done once, in order within its group, and no group waits for two turns of another', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.nat(4)), async (groups) => {
        const log = await drained(queueOf(groups));
        expect([...log].sort()).toEqual(groups.map((group, i) => `${group}.${i}`).sort());
        const left = new Map<string, number>();
        for (const group of groups) left.set(String(group), (left.get(String(group)) ?? 0) + 1);
        let previous = '';
        for (const entry of log) {
          const [group, index] = entry.split('.') as [string, string];
          const others = [...left].filter(([name, count]) => name !== group && count > 0);
          if (group === previous) expect(others).toEqual([]);
          left.set(group, left.get(group)! - 1);
          previous = group;
          expect(groups[Number(index)]).toBe(Number(group));
        }
      }),
    );
    expect(new FairQueue().take()).toBeUndefined();
  });
});

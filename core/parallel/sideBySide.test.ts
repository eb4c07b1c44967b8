import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sideBySide } from './sideBySide';

const always = (): boolean => true;
const later = (ticks: number): Promise<void> =>
  ticks > 0 ? Promise.resolve().then(() => later(ticks - 1)) : Promise.resolve();

describe('work side by side', () => {
  it('comes back in order, however long each takes, and never more at a time than there are hands', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.nat({ max: 20 })), fc.integer({ min: 1, max: 5 }), async (list, hands) => {
        let [now, most] = [0, 0];
        const results = await sideBySide(list, hands, always, async (ticks) => {
          most = Math.max(most, ++now);
          await later(ticks);
          now--;
          return 2 * ticks;
        });
        expect(results).toEqual(list.map((ticks) => 2 * ticks));
        expect(most).toBe(Math.min(hands, list.length));
      }),
    );
  });

  it('given up, hands out no more and says so; what fails is told', async () => {
    let asked = 0;
    const begun: number[] = [];
    const stopped = await sideBySide(
      [1, 2, 3, 4],
      1,
      () => ++asked <= 2,
      (one) => Promise.resolve(begun.push(one)),
    );
    expect(stopped).toBeNull();
    expect(begun).toEqual([1, 2]);
    await expect(
      sideBySide([1], 2, always, () => Promise.reject(new Error('No more paper'))),
    ).rejects.toThrow('No more paper');
  });
});

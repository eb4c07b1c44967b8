import { describe, expect, it } from 'vitest';
import { Handed } from './handed';

describe('what is handed over', () => {
  it('is taken in order, as it comes, to the end', async () => {
    const handed = new Handed<number>();
    const taken: number[] = [];
    const all = (async () => {
      for await (const one of handed) taken.push(one);
    })();
    handed.put(1);
    handed.put(2);
    await new Promise((resolve) => setTimeout(resolve, 5));
    expect(taken).toEqual([1, 2]);
    handed.put(3);
    handed.close();
    await all;
    expect(taken).toEqual([1, 2, 3]);
  });

  it('ends at once where nothing comes', async () => {
    const handed = new Handed<number>();
    handed.close();
    const taken: number[] = [];
    for await (const one of handed) taken.push(one);
    expect(taken).toEqual([]);
  });
});

/**
 * Does some work for each of a list, so many at a time, handed out in order.
 * @returns what came of them, in order; `null` where it was given up
 * @throws what the first of them failed with
 */
export async function sideBySide<T, R>(
  list: readonly T[],
  hands: number,
  wanted: () => boolean | Promise<boolean>,
  work: (one: T) => Promise<R>,
): Promise<R[] | null> {
  const results: R[] = [];
  let done = 0;
  const waiting = list.entries();
  const hand = async (): Promise<void> => {
    for (const [index, one] of waiting) {
      if (!(await wanted())) return;
      results[index] = await work(one);
      done++;
    }
  };
  await Promise.all(Array.from({ length: hands }, hand));
  return done === list.length ? results : null;
}

/** Hands results on in the order in which they were asked for, each as soon as those before it are there. */
export class InTurn<T> {
  private readonly waiting = new Map<number, T>();
  private next = 0;

  constructor(private readonly tell: (result: T) => void) {}

  put(index: number, result: T): void {
    this.waiting.set(index, result);
    for (let ready; (ready = this.waiting.get(this.next)); this.next++) {
      this.waiting.delete(this.next);
      this.tell(ready);
    }
  }
}

/** Works through so many things, as many under way as there are hands, so that thousands are not open at once. */
export async function sideBySide(
  count: number,
  hands: number,
  wanted: () => boolean,
  one: (index: number) => Promise<void>,
): Promise<void> {
  const indices = Array(count).keys();
  const take = async (): Promise<void> => {
    for (const index of indices) if (wanted()) await one(index);
  };
  await Promise.all(Array.from({ length: Math.max(1, hands) }, take));
}

/** What is handed over one by one, to be taken in order as it comes. */
export class Handed<T> implements AsyncIterable<T> {
  private readonly waiting: T[] = [];
  private closed = false;
  private wake: (() => void) | null = null;

  put(item: T): void {
    this.waiting.push(item);
    this.wake?.();
  }

  /** Nothing more comes. */
  close(): void {
    this.closed = true;
    this.wake?.();
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<T> {
    for (;;) {
      while (this.waiting.length > 0) yield this.waiting.shift()!;
      if (this.closed) return;
      await new Promise<void>((resolve) => (this.wake = resolve));
      this.wake = null;
    }
  }
}

/** Hundreds may come in a second, and each that is told draws a stage anew: they are told together, a few times a second. */
export class Gathered<V> {
  private waiting = new Map<string, V>();
  private timer: ReturnType<typeof setTimeout> | null = null;

  /** @param ms how long those that come are gathered @param tell takes what has come since, by key */
  constructor(
    private readonly ms: number,
    private readonly tell: (gathered: ReadonlyMap<string, V>) => void,
  ) {}

  add(key: string, value: V): void {
    this.waiting.set(key, value);
    this.timer ??= setTimeout(() => {
      this.timer = null;
      const told = this.waiting;
      this.waiting = new Map();
      this.tell(told);
    }, this.ms);
  }

  /** Whether something has come and is not told yet. */
  has(key: string): boolean {
    return this.waiting.has(key);
  }

  /** What came of one, and is not told yet, is out of date. */
  drop(key: string): void {
    this.waiting.delete(key);
  }

  /** What is not told yet never is. */
  close(): void {
    if (this.timer) clearTimeout(this.timer);
    this.waiting.clear();
  }
}

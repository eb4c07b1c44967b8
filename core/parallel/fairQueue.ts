/** Work that waits for a worker. */
export interface Waiting<W> {
  readonly run: (worker: W) => Promise<void>;
}

/**
 * Work waits in groups (a file is one), which take turns, so that a short file does not wait for a long one to end. What
 * is urgent goes before all groups.
 */
export class FairQueue<W> {
  private readonly urgent: Waiting<W>[] = [];
  /** In the order of their turns. */
  private readonly groups = new Map<number, Waiting<W>[]>();

  /** @param group `null` for what is urgent */
  add(group: number | null, work: Waiting<W>): void {
    if (group === null) {
      this.urgent.push(work);
      return;
    }
    const waiting = this.groups.get(group);
    if (waiting) waiting.push(work);
    else this.groups.set(group, [work]);
  }

  /** Takes the next piece of work out; its group's next turn comes after all others. */
  take(): Waiting<W> | undefined {
    const urgent = this.urgent.shift();
    if (urgent) return urgent;
    const next = this.groups.entries().next().value;
    if (!next) return undefined;
    const [group, waiting] = next;
    const work = waiting.shift();
    this.groups.delete(group);
    if (waiting.length > 0) this.groups.set(group, waiting);
    return work;
  }

  get isEmpty(): boolean {
    return this.urgent.length === 0 && this.groups.size === 0;
  }
}

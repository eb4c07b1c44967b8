import { FairQueue } from './fairQueue';
import { GivenUp, watch, type CancelSignal, type WatchRules } from './watchdog';

/** How a pool comes by its workers. */
export interface PoolRules<W> extends WatchRules {
  /** Workers at most; they are started when first needed. */
  readonly most: number;
  readonly hire: () => W;
  /** Ends a worker, whatever it is at. */
  readonly end: (worker: W) => void;
}

/** One piece of work. */
export interface Work<W, T> {
  /** Pieces of one file belong together; groups take turns. `null` goes before all of them. */
  readonly group: number | null;
  /** @param heard to be called with every sign of progress: without any, the work is ended */
  readonly start: (worker: W, heard: () => void) => Promise<T>;
  readonly signal?: CancelSignal;
  /** Tells a worker to give up what it is at. */
  readonly cancel?: (worker: W) => void;
}

/**
 * A few workers, each with one piece of work at a time. One that is stuck, or is told to be gone, is ended, and another takes
 * its place.
 */
export class Pool<W> {
  private readonly queue = new FairQueue<W>();
  private readonly workers = new Set<W>();
  private readonly idle: W[] = [];
  private isClosed = false;
  /** What waits is told when there are no workers any more. */
  private readonly onClose = new Set<() => void>();

  constructor(private readonly rules: PoolRules<W>) {}

  /** Those there are now. */
  get all(): ReadonlySet<W> {
    return this.workers;
  }

  /** @throws {GivenUp} when it was cancelled, waiting or running, or made no progress; else what the work throws */
  run<T>(work: Work<W, T>): Promise<T> {
    return new Promise((resolve, reject) => {
      const leave = (): void => reject(new GivenUp('cancelled'));
      if (this.isClosed) return leave();
      this.onClose.add(leave);
      work.signal?.addEventListener('abort', leave);
      const run = async (worker: W): Promise<void> => {
        work.signal?.removeEventListener('abort', leave);
        this.onClose.delete(leave);
        await this.follow(worker, work).then(resolve, reject);
      };
      this.queue.add(work.group, { run });
      this.next();
    });
  }

  /** Ends a worker; the next piece of work gets another one. */
  dismiss(worker: W): void {
    if (this.workers.delete(worker)) this.rules.end(worker);
  }

  /** Ends all workers; what waits, and whatever comes, is given up. */
  close(): void {
    this.isClosed = true;
    for (const leave of this.onClose) leave();
    this.onClose.clear();
    for (const worker of this.workers) this.dismiss(worker);
  }

  private follow<T>(worker: W, { start, signal, cancel }: Work<W, T>): Promise<T> {
    return watch(this.rules, {
      start: (heard) => start(worker, heard),
      ...(signal && { signal }),
      cancel: () => cancel?.(worker),
      end: () => this.dismiss(worker),
    });
  }

  private next(): void {
    if (this.queue.isEmpty || this.isClosed) return;
    const worker = this.idle.pop() ?? this.hire();
    if (worker === null) return;
    void this.queue
      .take()!
      .run(worker)
      .finally(() => {
        // One that was ended over its work is not used again.
        if (this.workers.has(worker)) this.idle.push(worker);
        this.next();
      });
  }

  private hire(): W | null {
    if (this.workers.size >= this.rules.most) return null;
    const worker = this.rules.hire();
    this.workers.add(worker);
    return worker;
  }
}

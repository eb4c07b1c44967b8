import { FairQueue } from './fairQueue';

/** How often work is looked after, ms. */
const LOOK_MS = 1_000;
/** Work of which nothing was heard for so many looks is given up, so that other work goes ahead. */
const PATIENT_LOOKS = 30;
/** So many looks after a cancel, a worker that has not heeded it is stuck. */
const CANCEL_LOOKS = 2;

/** Work that came to no end by itself. */
export class GivenUp extends Error {
  /** @param why it was cancelled, or nothing was heard of it for half a minute */
  constructor(readonly why: 'cancelled' | 'silent') {
    super(why === 'cancelled' ? 'The work was cancelled.' : 'The work came to no end.');
  }
}

/** What of an AbortSignal is needed. */
interface CancelSignal {
  readonly aborted: boolean;
  addEventListener(type: 'abort', listener: () => void): void;
  removeEventListener(type: 'abort', listener: () => void): void;
}

/** How a pool comes by its workers. */
export interface PoolRules<W> {
  /** Workers at most; they are started when first needed. */
  readonly most: number;
  readonly hire: () => W;
  /** Ends a worker, whatever it is at. */
  readonly end: (worker: W) => void;
  /** Calls again and again, ms. @returns ends it */
  readonly every: (ms: number, look: () => void) => () => void;
  /** Between two looks at work under way, ms; {@link LOOK_MS} where it is not given. */
  readonly lookMs?: number;
  /** Looks without a word after which work is given up; {@link PATIENT_LOOKS} where it is not given. */
  readonly patience?: number;
}

/** One piece of work. */
export interface Work<W, T> {
  /** Pieces of one file belong together; groups take turns. `null` goes before all of them. */
  readonly group: number | null;
  /** @param heard to be called with every sign of life, where silence ends the work */
  readonly start: (worker: W, heard: () => void) => Promise<T>;
  readonly signal?: CancelSignal;
  /** Tells a worker to give up what it is at. */
  readonly cancel?: (worker: W) => void;
  /** Work that reads a file may come to no end: it is given up when nothing is heard of it. */
  readonly watched?: boolean;
}

/**
 * A few workers, each with one piece of work at a time. One that is stuck, or is told to be gone, is ended, and another takes
 * its place.
 */
export class Pool<W> {
  private readonly queue = new FairQueue<W>();
  private readonly workers = new Set<W>();
  private readonly idle: W[] = [];

  constructor(private readonly rules: PoolRules<W>) {}

  /** Those there are now. */
  get all(): ReadonlySet<W> {
    return this.workers;
  }

  /** @throws {GivenUp} when it was cancelled, waiting or running, or nothing was heard of it; else what the work throws */
  run<T>(work: Work<W, T>): Promise<T> {
    return new Promise((resolve, reject) => {
      const leave = (): void => reject(new GivenUp('cancelled'));
      work.signal?.addEventListener('abort', leave);
      const run = async (worker: W): Promise<void> => {
        work.signal?.removeEventListener('abort', leave);
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

  close(): void {
    for (const worker of this.workers) this.dismiss(worker);
  }

  private async follow<T>(worker: W, { start, signal, cancel, watched = false }: Work<W, T>): Promise<T> {
    if (signal?.aborted) throw new GivenUp('cancelled');
    const { lookMs = LOOK_MS, patience = PATIENT_LOOKS } = this.rules;
    let stopLooking: (() => void) | null = null;
    let abort = (): void => undefined;
    // Looks are counted rather than time, so that a machine that slept is not taken for work that hangs.
    let looks = 0;
    const stuck = new Promise<never>((_, reject) => {
      const look = (most: number, why: GivenUp['why']): void => {
        looks = 0;
        stopLooking?.();
        stopLooking = this.rules.every(lookMs, () => {
          if (++looks <= most) return;
          stopLooking?.();
          this.dismiss(worker);
          reject(new GivenUp(why));
        });
      };
      if (watched) look(patience, 'silent');
      abort = () => {
        cancel?.(worker);
        look(CANCEL_LOOKS, 'cancelled');
      };
    });
    signal?.addEventListener('abort', abort);
    const heard = (): void => {
      if (!signal?.aborted) looks = 0;
    };
    try {
      return await Promise.race([start(worker, heard), stuck]);
    } finally {
      (stopLooking as (() => void) | null)?.();
      signal?.removeEventListener('abort', abort);
    }
  }

  private next(): void {
    if (this.queue.isEmpty) return;
    const worker = this.idle.pop() ?? this.hire();
    if (worker === null) return;
    void this.queue
      .take()!
      .run(worker)
      .finally(() => {
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

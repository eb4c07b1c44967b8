/** How often a job is looked at, ms. */
const LOOK_MS = 1_000;
/** A job is stopped that made no progress in so many looks at the machine's full pace. */
const PATIENCE = 60;
/** From so many silent looks on, what the machine could have done meanwhile is found out. */
const PROBED_AFTER = 10;
/** So many looks after a cancel, a worker that has not heeded it is stuck. */
const CANCEL_LOOKS = 2;
/** What a look counts while nothing is known of the machine's pace: it is too busy to say. */
const PACE_UNKNOWN = 0.1;

/** A job that was stopped from outside. */
export class GivenUp extends Error {
  /** @param why it was cancelled, or it made no progress */
  constructor(readonly why: 'cancelled' | 'silent') {
    super(why === 'cancelled' ? 'The work was cancelled.' : 'The work made no progress.');
  }
}

/** What of an AbortSignal is needed. */
export interface CancelSignal {
  readonly aborted: boolean;
  addEventListener(type: 'abort', listener: () => void): void;
  removeEventListener(type: 'abort', listener: () => void): void;
}

/** What a watchdog goes by. */
export interface WatchRules {
  /** Calls again and again, ms. @returns ends it */
  readonly every: (ms: number, look: () => void) => () => void;
  /**
   * The share of a core that a busy thread gets at the moment, over 0 to 1; see {@link measurePace}. Without it every look counts in
   * full.
   */
  readonly pace?: () => Promise<number>;
  /** Between two looks, ms; {@link LOOK_MS} where it is not given. */
  readonly lookMs?: number;
  /** Looks at full pace without progress after which a job is stopped; {@link PATIENCE} where it is not given. */
  readonly patience?: number;
}

/** A job that is watched. */
export interface WatchedJob<T> {
  /** @param heard to be called with every sign of progress */
  readonly start: (heard: () => void) => Promise<T>;
  readonly signal?: CancelSignal;
  /** Asks the worker to stop. */
  readonly cancel?: () => void;
  /** Ends the worker, whatever it is at. */
  readonly end: () => void;
}

/**
 * Runs a job to its end, and ends it where it makes no progress. Progress is what counts, not the clock: while the machine is busy
 * with something else, or asleep, silence is no sign of a job that is stuck.
 * @throws {GivenUp} when it was cancelled, or made no progress; else what the job throws
 */
export async function watch<T>(rules: WatchRules, { start, signal, cancel, end }: WatchedJob<T>): Promise<T> {
  if (signal?.aborted) throw new GivenUp('cancelled');
  const { every, pace, lookMs = LOOK_MS, patience = PATIENCE } = rules;
  let [silent, looks, cancelled, probing] = [0, 0, false, false];
  let stopLooking = (): void => undefined;
  const probe = async (): Promise<void> => {
    probing = true;
    silent += await pace!().catch(() => PACE_UNKNOWN);
    probing = false;
  };
  const stuck = new Promise<never>((_, reject) => {
    const giveUp = (): void => {
      stopLooking();
      end();
      reject(new GivenUp(cancelled ? 'cancelled' : 'silent'));
    };
    stopLooking = every(lookMs, () => {
      looks++;
      if (cancelled) return void (looks > CANCEL_LOOKS && giveUp());
      if (!pace || silent < Math.max(1, Math.min(PROBED_AFTER, patience))) silent++;
      else if (probing) silent += PACE_UNKNOWN;
      else void probe();
      if (silent > patience) giveUp();
    });
  });
  const abort = (): void => {
    cancelled = true;
    looks = 0;
    cancel?.();
  };
  signal?.addEventListener('abort', abort);
  const heard = (): void => void (silent = 0);
  try {
    return await Promise.race([start(heard), stuck]);
  } finally {
    stopLooking();
    signal?.removeEventListener('abort', abort);
  }
}

/** Units of work in one measurement of the pace: some 20 ms of it. */
const UNITS = 20;
const UNIT_STEPS = 300_000;

function workUnit(seed: number): number {
  let x = seed;
  for (let i = 0; i < UNIT_STEPS; i++) x = (x * 1.000001 + 0.5) % 1_000_003;
  return x;
}

/**
 * Finds out which share of a core a busy thread gets: the same little work again and again, its quickest turn held against all of them.
 * @param now a clock, ms
 * @returns over 0 to 1
 */
export function measurePace(now: () => number): number {
  let quickest = Infinity;
  let done = 1;
  const started = now();
  for (let i = 0; i < UNITS; i++) {
    const from = now();
    done = workUnit(done);
    quickest = Math.min(quickest, now() - from);
  }
  const took = now() - started;
  return took > 0 && done > 0 ? Math.min(1, Math.max(0.001, (UNITS * quickest) / took)) : 1;
}

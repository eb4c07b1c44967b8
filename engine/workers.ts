import { wrap, type Remote } from 'comlink';
import { Pool } from '@/core/parallel/pool';
import { GivenUp, type WatchRules } from '@/core/parallel/watchdog';
import { toFailure } from './failure';
import type { PaceApi } from './pace.worker';
import type { Failure, Outcome } from './protocol';

/** How many workers of a kind there are at most. One core stays free for the page; of two, it gets its share of both. */
export const mostWorkers = (): number =>
  Math.min(8, Math.max(Math.min(2, navigator.hardwareConcurrency), navigator.hardwareConcurrency - 1));

/** A worker of this page, and what it can be asked. */
export interface PageWorker<Api> {
  readonly worker: Worker;
  readonly api: Remote<Api>;
}

let pacer: Remote<PaceApi> | null = null;

/** How jobs of this page are watched. The pace is taken in a worker of its own, the first time that a job is silent. */
export const PAGE_WATCH: WatchRules = {
  every: (ms, look) => {
    const timer = setInterval(look, ms);
    return () => clearInterval(timer);
  },
  pace: () => {
    pacer ??= wrap<PaceApi>(new Worker(new URL('./pace.worker.ts', import.meta.url), { type: 'module' }));
    return pacer.pace();
  },
};

/** A pool of as many workers as the machine bears. */
export function poolOf<W extends PageWorker<unknown>>(hire: () => W): Pool<W> {
  return new Pool<W>({
    ...PAGE_WATCH,
    most: mostWorkers(),
    hire,
    end: ({ worker }) => worker.terminate(),
  });
}

const STALLED: Failure = {
  code: 'stalled',
  message: 'Processing stalled and was stopped.',
  hint: 'Try again. If the same file stalls each time, export it again.',
};

/** The outcome of a job; a cancelled, stalled or failed one resolves too. */
export async function settled<T>(job: Promise<Outcome<T>>): Promise<Outcome<T>> {
  try {
    return await job;
  } catch (error) {
    if (!(error instanceof GivenUp)) return { failure: toFailure(error) };
    return error.why === 'cancelled' ? { cancelled: true } : { failure: STALLED };
  }
}

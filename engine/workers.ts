import type { Remote } from 'comlink';
import { Pool } from '@/core/parallel/pool';

/** How many workers of a kind there are at most. One core stays free for the page; of two, it gets its share of both. */
export const mostWorkers = (): number =>
  Math.min(8, Math.max(Math.min(2, navigator.hardwareConcurrency), navigator.hardwareConcurrency - 1));

/** A worker of this page, and what it can be asked. */
export interface PageWorker<Api> {
  readonly worker: Worker;
  readonly api: Remote<Api>;
}

/** A pool of as many workers as the machine bears. */
export function poolOf<W extends PageWorker<unknown>>(hire: () => W): Pool<W> {
  return new Pool<W>({
    most: mostWorkers(),
    hire,
    end: ({ worker }) => worker.terminate(),
    every: (ms, look) => {
      const timer = setInterval(look, ms);
      return () => clearInterval(timer);
    },
  });
}

import { watch } from '@/core/parallel/watchdog';
import { withProgress } from './progress';
import type { OnProgress, Outcome } from './protocol';
import { hearing } from './signs';
import { PAGE_WATCH, settled } from './workers';

let jobs = 0;

/** How a worker is given a job. */
export interface JobOf<T> {
  readonly worker: Worker;
  readonly signal: AbortSignal;
  readonly onProgress?: OnProgress;
  /** @param job its number */
  readonly start: (job: number, report: OnProgress) => Promise<Outcome<T>>;
  /** Tells the worker that a job is no longer wanted. */
  readonly cancel: (job: number) => void;
  /** Told when the worker had to be ended, as it made no progress or did not heed the cancel. */
  readonly onEnd?: () => void;
}

/** Has a worker do a job of its own number, which ends with the signal, and is ended where it makes no progress. */
export function workerJob<T>(of: JobOf<T>): Promise<Outcome<T>> {
  const { worker, signal, onProgress = () => undefined, start, cancel, onEnd } = of;
  const job = ++jobs;
  return withProgress<Outcome<T>>(onProgress, (report) =>
    settled(
      watch(PAGE_WATCH, {
        start: (heard) => hearing(worker, job, heard, () => start(job, report)),
        signal,
        cancel: () => cancel(job),
        end: () => {
          worker.terminate();
          onEnd?.();
        },
      }),
    ),
  );
}

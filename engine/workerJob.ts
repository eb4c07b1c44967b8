import { outcomeOf } from './failure';
import { withProgress } from './progress';
import type { OnProgress, Outcome } from './protocol';

let jobs = 0;

/**
 * Has a worker do a job of its own number, which ends with the signal.
 * @param cancel tells the worker that a job is no longer wanted
 */
export function workerJob<T>(
  cancel: (job: number) => void,
  signal: AbortSignal,
  onProgress: OnProgress,
  start: (job: number, report: OnProgress) => Promise<Outcome<T>>,
): Promise<Outcome<T>> {
  if (signal.aborted) return Promise.resolve({ cancelled: true });
  const job = ++jobs;
  const abort = (): void => cancel(job);
  signal.addEventListener('abort', abort);
  return withProgress<Outcome<T>>(onProgress, (report) => outcomeOf(start(job, report))).finally(() =>
    signal.removeEventListener('abort', abort),
  );
}

import { proxy } from 'comlink';

/**
 * Runs work that reports progress from a worker. Reports travel on a channel of their own and can arrive after the
 * result; those are dropped, so that nothing finished looks unfinished.
 */
export async function withProgress<T>(
  onProgress: (done: number) => void,
  work: (report: (done: number) => void) => Promise<T>,
): Promise<T> {
  let live = true;
  const report = proxy((done: number) => {
    if (live) onProgress(done);
  });
  try {
    return await work(report);
  } finally {
    live = false;
  }
}

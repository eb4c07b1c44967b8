import { proxy } from 'comlink';

/** Progress is told at most so often, ms: whoever shows it is drawn anew each time. */
const TOLD_EVERY_MS = 100;

/**
 * Tells how far something is only now and then, and never that it went back.
 * @param ms between two reports at least
 */
export function throttled(onProgress: (done: number) => void, ms = TOLD_EVERY_MS): (done: number) => void {
  let [told, most] = [-Infinity, -Infinity];
  return (done) => {
    const now = performance.now();
    if (done <= most || now - told < ms) return;
    told = now;
    most = done;
    onProgress(done);
  };
}

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

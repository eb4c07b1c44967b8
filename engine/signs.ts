/** Signs of progress that a worker gives its page while it is at a job, apart from what it was asked to report. */

/** They are given at most so often, ms. */
const EVERY_MS = 500;

interface Sign {
  readonly progressOf: number;
}

/** What of a worker's own side is needed to give a sign. */
const page = globalThis as { postMessage?: (message: Sign) => void };

/** In a worker: gives a sign each time it is called, though not too often. @param job the number it was given with the job */
export function tellProgress(job: number): () => void {
  let told = 0;
  return () => {
    const now = Date.now();
    if (now - told < EVERY_MS) return;
    told = now;
    page.postMessage?.({ progressOf: job });
  };
}

/** On the page: calls `heard` with every sign of progress of a job, until the work has ended. */
export async function hearing<T>(
  worker: Pick<Worker, 'addEventListener' | 'removeEventListener'>,
  job: number,
  heard: () => void,
  work: () => Promise<T>,
): Promise<T> {
  const take = ({ data }: MessageEvent): void => {
    if ((data as Sign | null)?.progressOf === job) heard();
  };
  worker.addEventListener('message', take);
  try {
    return await work();
  } finally {
    worker.removeEventListener('message', take);
  }
}

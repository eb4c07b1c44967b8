import { transfer } from 'comlink';
import { toFailure } from './failure';
import type { OnProgress, Outcome } from './protocol';
import { throttled } from './progress';
import { tellProgress } from './signs';
import { yieldNow } from './yieldNow';

/**
 * Does a piece of work and gives what became of it; whatever it throws is told as a failure.
 * @param work gives `null` when it was given up
 * @param buffers what of the result is handed over rather than copied
 */
export async function answer<T>(
  work: () => Promise<T | null>,
  buffers: (result: T) => ArrayBuffer[] = () => [],
): Promise<Outcome<T>> {
  try {
    const result = await work();
    return result === null ? { cancelled: true } : transfer({ ok: result }, buffers(result));
  } catch (error) {
    return { failure: toFailure(error) };
  }
}

/** The jobs of a worker, each of which can be given up between two steps of it. */
export class Jobs {
  private readonly cancelled = new Set<number>();

  cancel = (job: number): void => void this.cancelled.add(job);

  /** The same as {@link answer} for a job. */
  async answer<T>(
    job: number,
    work: (proceed: (done: number) => Promise<boolean>) => Promise<T | null>,
    { onProgress, buffers }: { onProgress?: OnProgress; buffers?: (result: T) => ArrayBuffer[] } = {},
  ): Promise<Outcome<T>> {
    const report = throttled(onProgress ?? (() => undefined));
    const sign = tellProgress(job);
    // Lets a cancel in, and tells how far it is.
    const proceed = async (done: number): Promise<boolean> => {
      sign();
      report(done);
      await yieldNow();
      return !this.cancelled.has(job);
    };
    try {
      return await answer(() => work(proceed), buffers);
    } finally {
      this.cancelled.delete(job);
    }
  }
}

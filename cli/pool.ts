import { Worker } from 'node:worker_threads';
import { EXPORT_AGAIN } from '@/core/formats/limits';
import { Pool } from '@/core/parallel/pool';
import { GivenUp, measurePace } from '@/core/parallel/watchdog';
import { FileError, type Trouble } from './files';
import { work, type Answer, type Task } from './work';

type OnProgress = (done: number) => void;

type Message = { readonly progress: number } | { readonly answer: Answer } | { readonly trouble: Trouble };

/** How workers are started and looked after; see {@link Pool}. */
interface Rules {
  /** Their program. */
  readonly worker: URL;
  readonly lookMs?: number;
  readonly patience?: number;
}

const gaveUp = (task: Task): FileError =>
  new FileError(
    'stalled',
    `Reading ${task.kind === 'slice' ? 'a part of this file' : 'this file'} stalled and was stopped.`,
    `Try again. If it stops each time: ${EXPORT_AGAIN}`,
  );

const tooMuch = (): FileError =>
  new FileError('tooMuch', 'Reading this file took too much memory and was stopped.', EXPORT_AGAIN);

/** Gives a worker a task. @throws when it could not be done @param onGone told when the worker ended over it */
function give(worker: Worker, task: Task, onProgress: OnProgress, onGone: () => void): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const end = (): void => {
      worker.off('message', take);
      worker.off('error', broke);
      worker.off('exit', gone);
    };
    const fail = (error: Error): void => {
      end();
      onGone();
      reject(error);
    };
    const gone = (): void => fail(tooMuch());
    const broke = (error: NodeJS.ErrnoException): void =>
      fail(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooMuch() : error);
    const take = (message: Message): void => {
      if ('progress' in message) return onProgress(message.progress);
      end();
      if ('answer' in message) resolve(message.answer);
      else reject(new FileError(message.trouble.code, message.trouble.message, message.trouble.hint));
    };
    worker.on('message', take);
    worker.on('error', broke);
    worker.on('exit', gone);
    worker.postMessage(task);
  });
}

/** Does tasks of measuring. */
export interface TaskPool {
  /** Tasks at a time at most. */
  readonly jobs: number;
  /**
   * @param group tasks of one file belong together; groups take turns
   * @param signal gives up a task that still waits
   * @throws what went wrong with it
   */
  run(task: Task, group: number, onProgress: OnProgress, signal?: AbortSignal): Promise<Answer>;
  close(): Promise<void>;
}

/** Workers that measure. Even one task at a time has a worker: what hangs can then be given up. */
class WorkerPool implements TaskPool {
  private readonly pool: Pool<Worker>;
  private readonly ended: Promise<number>[] = [];

  /** @param jobs tasks at a time at most */
  constructor(
    readonly jobs: number,
    { worker, ...rules }: Rules = { worker: new URL('./worker.mjs', import.meta.url) },
  ) {
    this.pool = new Pool<Worker>({
      ...rules,
      most: jobs,
      hire: () => new Worker(worker),
      end: (gone) => void this.ended.push(gone.terminate()),
      every: (ms, look) => {
        const timer = setInterval(look, ms);
        return () => clearInterval(timer);
      },
      pace: () => Promise.resolve(measurePace(() => performance.now())),
    });
  }

  async run(task: Task, group: number, onProgress: OnProgress, signal?: AbortSignal): Promise<Answer> {
    const start = (worker: Worker, heard: () => void): Promise<Answer> => {
      const tell: OnProgress = (done) => {
        heard();
        onProgress(done);
      };
      return give(worker, task, tell, () => this.pool.dismiss(worker));
    };
    try {
      return await this.pool.run({ group, start, ...(signal && { signal }) });
    } catch (error) {
      throw error instanceof GivenUp ? gaveUp(task) : error;
    }
  }

  async close(): Promise<void> {
    this.pool.close();
    await Promise.all(this.ended);
  }
}

export const openPool = (jobs: number, rules?: Rules): TaskPool => new WorkerPool(jobs, rules);

/** No workers: for a process that is ended as a whole where it hangs; nothing is held twice. */
export const openHere = (): TaskPool => ({
  jobs: 1,
  run: (task, _group, onProgress) => work(task, onProgress),
  close: () => Promise.resolve(),
});

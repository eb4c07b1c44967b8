import { Worker } from 'node:worker_threads';
import { FairQueue } from '@/core/parallel/fairQueue';
import { FileError } from './files';
import { work, type Answer, type Task } from './work';

type OnProgress = (done: number) => void;

/** Does tasks one after the other, or several at a time. */
export interface Pool {
  /** Tasks that can run at the same time. */
  readonly jobs: number;
  /** @param group tasks of one file belong together; groups take turns */
  run(task: Task, group: number, onProgress: OnProgress): Promise<Answer>;
  close(): Promise<void>;
}

type Message =
  | { readonly progress: number }
  | { readonly answer: Answer }
  | { readonly trouble: { readonly code: string; readonly message: string; readonly hint: string } };

/** One worker with one task at a time. */
class Hand {
  private readonly worker = new Worker(new URL('./worker.mjs', import.meta.url));

  run(task: Task, onProgress: OnProgress): Promise<Answer> {
    return new Promise((resolve, reject) => {
      const end = (): void => {
        this.worker.off('message', take);
        this.worker.off('error', fail);
      };
      const fail = (error: unknown): void => {
        end();
        reject(error as Error);
      };
      const take = (message: Message): void => {
        if ('progress' in message) return onProgress(message.progress);
        end();
        if ('answer' in message) resolve(message.answer);
        else reject(new FileError(message.trouble.code, message.trouble.message, message.trouble.hint));
      };
      this.worker.on('message', take);
      this.worker.on('error', fail);
      this.worker.postMessage(task);
    });
  }

  close(): Promise<number> {
    return this.worker.terminate();
  }
}

class WorkerPool implements Pool {
  private readonly queue = new FairQueue<Hand>();
  private readonly hands: Hand[] = [];
  private readonly idle: Hand[] = [];

  constructor(readonly jobs: number) {}

  run(task: Task, group: number, onProgress: OnProgress): Promise<Answer> {
    return new Promise((resolve, reject) => {
      this.queue.add(group, { run: (hand) => hand.run(task, onProgress).then(resolve, reject) });
      this.next();
    });
  }

  private next(): void {
    if (this.queue.isEmpty) return;
    let hand = this.idle.pop();
    if (!hand && this.hands.length < this.jobs) this.hands.push((hand = new Hand()));
    if (!hand) return;
    const free = hand;
    void this.queue
      .take()!
      .run(free)
      .finally(() => {
        this.idle.push(free);
        this.next();
      });
  }

  async close(): Promise<void> {
    await Promise.all(this.hands.map((hand) => hand.close()));
  }
}

/** With one job at a time there is no need of a worker. */
const INLINE: Pool = {
  jobs: 1,
  run(task, _group, onProgress) {
    let frames = 0;
    return work(task, (done) => onProgress(task.kind === 'stretch' ? (frames += done) : done));
  },
  close: () => Promise.resolve(),
};

export const openPool = (jobs: number): Pool => (jobs <= 1 ? INLINE : new WorkerPool(jobs));

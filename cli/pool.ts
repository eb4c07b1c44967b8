import { Worker } from 'node:worker_threads';
import { EXPORT_AGAIN } from '@/core/formats/limits';
import { FairQueue } from '@/core/parallel/fairQueue';
import { FileError, type Trouble } from './files';
import type { Answer, Task } from './work';

type OnProgress = (done: number) => void;

/** Does tasks one after the other, or several at a time. */
export interface Pool {
  /** Tasks that can run at the same time. */
  readonly jobs: number;
  /** @param group tasks of one file belong together; groups take turns */
  run(task: Task, group: number, onProgress: OnProgress): Promise<Answer>;
  close(): Promise<void>;
}

type Message = { readonly progress: number } | { readonly answer: Answer } | { readonly trouble: Trouble };

/** How workers are started and looked after. */
interface Rules {
  /** Their program. */
  readonly worker: URL;
  /** How often a task is looked after, ms. */
  readonly tickMs: number;
  /** A task that has told nothing for so many looks is given up. */
  readonly patience: number;
}

const gaveUp = (task: Task): FileError =>
  new FileError(
    'tooSlow',
    `Reading ${task.kind === 'begin' ? 'this file' : 'a part of this file'} came to no end; it was given up.`,
    EXPORT_AGAIN,
  );

/** One worker with one task at a time. */
class Hand {
  private readonly worker: Worker;
  /** It was stuck and is of no more use. */
  dead = false;

  constructor(private readonly rules: Rules) {
    this.worker = new Worker(rules.worker);
  }

  run(task: Task, onProgress: OnProgress): Promise<Answer> {
    const { tickMs, patience } = this.rules;
    return new Promise((resolve, reject) => {
      // Looks are counted rather than time, so that a machine that slept is not taken for a task that hangs.
      let looks = 0;
      const watch = setInterval(() => {
        if (++looks <= patience) return;
        fail(gaveUp(task));
        void this.close();
      }, tickMs);
      const end = (): void => {
        clearInterval(watch);
        this.worker.off('message', take);
        this.worker.off('error', broke);
        this.worker.off('exit', gone);
      };
      const fail = (error: unknown): void => {
        this.dead = true;
        end();
        reject(error as Error);
      };
      const gone = (): void =>
        fail(
          new FileError('tooMuch', 'Reading this file took too much memory; it was given up.', EXPORT_AGAIN),
        );
      const broke = (error: NodeJS.ErrnoException): void =>
        error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? gone() : fail(error);
      const take = (message: Message): void => {
        looks = 0;
        if ('progress' in message) return onProgress(message.progress);
        end();
        if ('answer' in message) resolve(message.answer);
        else reject(new FileError(message.trouble.code, message.trouble.message, message.trouble.hint));
      };
      this.worker.on('message', take);
      this.worker.on('error', broke);
      this.worker.on('exit', gone);
      this.worker.postMessage(task);
    });
  }

  close(): Promise<number> {
    return this.worker.terminate();
  }
}

class WorkerPool implements Pool {
  private readonly queue = new FairQueue<Hand>();
  private readonly hands = new Set<Hand>();
  private readonly idle: Hand[] = [];

  constructor(
    readonly jobs: number,
    private readonly rules: Rules,
  ) {}

  run(task: Task, group: number, onProgress: OnProgress): Promise<Answer> {
    return new Promise((resolve, reject) => {
      this.queue.add(group, { run: (hand) => hand.run(task, onProgress).then(resolve, reject) });
      this.next();
    });
  }

  private next(): void {
    if (this.queue.isEmpty) return;
    const hand = this.idle.pop() ?? this.hire();
    if (!hand) return;
    void this.queue
      .take()!
      .run(hand)
      .finally(() => {
        if (hand.dead) this.hands.delete(hand);
        else this.idle.push(hand);
        this.next();
      });
  }

  private hire(): Hand | null {
    if (this.hands.size >= this.jobs) return null;
    const hand = new Hand(this.rules);
    this.hands.add(hand);
    return hand;
  }

  async close(): Promise<void> {
    await Promise.all([...this.hands].map((hand) => hand.close()));
  }
}

const RULES: Rules = {
  worker: new URL('./worker.mjs', import.meta.url),
  tickMs: 1_000,
  patience: 30,
};

/** Workers that measure. Even one task at a time has a worker: what hangs can then be given up. */
export const openPool = (jobs: number, rules: Partial<Rules> = {}): Pool =>
  new WorkerPool(jobs, { ...RULES, ...rules });

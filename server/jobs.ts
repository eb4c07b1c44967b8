import { fork } from 'node:child_process';
import { existsSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { ApiError } from './apiError';
import { log } from './log';
import { shared } from './shared';
import type { Job, JobAnswer, JobResult } from './work';

/** Of what a process says of its own accord, so much is kept for the log. */
const MOST_SAID = 4_000;
/** Work of one request may take so long. */
const MOST_MS = 30 * 60_000;
/** So many may wait for each that is at work. */
const WAITING_EACH = 16;

interface Waiting {
  readonly start: () => void;
}

/** All routes share one queue. */
const queue = shared('queue', () => ({ running: 0, waiting: [] as Waiting[] }));

const most = (): number => Math.max(1, availableParallelism());

/** How much is under way and how much waits. */
export const queueLength = (): { readonly running: number; readonly waiting: number } => ({
  running: queue.running,
  waiting: queue.waiting.length,
});

/** Waits for a place among those at work. @throws ApiError when too many wait already */
async function place(signal: AbortSignal): Promise<() => void> {
  const release = (): void => {
    queue.running--;
    const next = queue.waiting.shift();
    if (next) next.start();
  };
  if (queue.running < most()) {
    queue.running++;
    return release;
  }
  if (queue.waiting.length >= WAITING_EACH * most())
    throw new ApiError(429, 'busy', 'Too many requests wait already.', 'Try again in a minute.');
  await new Promise<void>((resolve, reject) => {
    const waiting: Waiting = {
      start: () => {
        signal.removeEventListener('abort', leave);
        queue.running++;
        resolve();
      },
    };
    const leave = (): void => {
      queue.waiting.splice(queue.waiting.indexOf(waiting), 1);
      reject(new ApiError(499, 'gone', 'The request was given up.', 'Send it again.'));
    };
    signal.addEventListener('abort', leave, { once: true });
    queue.waiting.push(waiting);
  });
  return release;
}

/** The program that does the work: bundled with the command line, see `scripts/lib/cli.mjs`. */
const program = (): string =>
  join(/* turbopackIgnore: true */ process.cwd(), '.cache', 'cli', 'apiWorker.mjs');

/** Codes of what was wrong with the file rather than here. */
const status = (code: string): number =>
  code === 'unexpected' || code === 'tooMuch' || code === 'stalled' ? 500 : 422;

/**
 * Has a process of its own do a piece of work; it ends with it, or with the request.
 * @throws ApiError when it cannot be done
 */
export async function runJob<J extends Job>(job: J, signal: AbortSignal): Promise<JobResult<J>> {
  if (!existsSync(program()))
    throw new ApiError(500, 'notBuilt', 'The server is not built.', 'Run: npm run build');
  const release = await place(signal);
  const began = performance.now();
  const told = (level: 'info' | 'error', result: string): void =>
    log(level, 'job', { kind: job.kind, result, ms: Math.round(performance.now() - began) });
  try {
    const result = await new Promise<JobResult<J>>((resolve, reject) => {
      const child = fork(/* turbopackIgnore: true */ program(), [], {
        stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
        serialization: 'advanced',
        // The key is none of its business.
        env: { ...process.env, DENGUNG_KEY: '', DENGUNG_ROOT: process.cwd() },
        execArgv: [],
      });
      // What it says before it crashes is all that is known of it.
      let said = '';
      child.stderr?.setEncoding('utf8');
      child.stderr?.on('data', (text: string) => (said = (said + text).slice(-MOST_SAID)));
      let settled = false;
      const end = (): void => {
        settled = true;
        clearTimeout(timer);
        signal.removeEventListener('abort', gone);
        child.kill('SIGKILL');
      };
      const fail = (error: ApiError): void => {
        end();
        reject(error);
      };
      const gone = (): void => fail(new ApiError(499, 'gone', 'The request was given up.', 'Send it again.'));
      const timer = setTimeout(
        () => fail(new ApiError(503, 'stalled', 'Processing timed out.', 'Try a shorter file.')),
        MOST_MS,
      );
      signal.addEventListener('abort', gone, { once: true });
      if (signal.aborted) return gone();
      child.once('error', () =>
        fail(new ApiError(500, 'unexpected', 'The work could not be begun.', 'Try again.')),
      );
      child.once('exit', (code, killedBy) => {
        if (settled) return;
        log('error', 'jobEnded', { kind: job.kind, code, signal: killedBy, said });
        fail(new ApiError(500, 'unexpected', 'The work ended early.', 'Try again, or check the file.'));
      });
      child.once('message', (answer: JobAnswer) => {
        end();
        if ('ok' in answer) resolve(answer.ok as JobResult<J>);
        else {
          const { code, message, hint } = answer.trouble;
          reject(new ApiError(status(code), code, message, hint));
        }
      });
      child.send(job);
    });
    told('info', 'done');
    return result;
  } catch (error) {
    const code = error instanceof ApiError ? error.code : 'unexpected';
    told(error instanceof ApiError && error.status < 500 ? 'info' : 'error', code);
    throw error;
  } finally {
    release();
  }
}

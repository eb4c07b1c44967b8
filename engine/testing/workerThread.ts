import { basename } from 'node:path';
import { pathToFileURL } from 'node:url';
import { parentPort, Worker as Thread, workerData, type Transferable } from 'node:worker_threads';
import type { Endpoint } from 'comlink';
import nodeAdapter from 'comlink/dist/esm/node-adapter.mjs';

/** The package has types for it, but not where it is imported from. */
const nodeEndpoint = nodeAdapter as unknown as (
  of: unknown,
) => Pick<Endpoint, 'addEventListener' | 'removeEventListener' | 'postMessage'>;

/** The workers of the product in threads of Node: what the browser has of `Worker`, over the bundled programs. */
export class ThreadWorker {
  /** Those that have not been ended. */
  static readonly running = new Set<ThreadWorker>();
  /** Folder of the bundled programs. */
  static folder = '';

  private readonly thread: Thread;
  private readonly endpoint: ReturnType<typeof nodeEndpoint>;

  constructor(url: URL) {
    const program = basename(url.pathname).replace(/\.ts$/, '.mjs');
    const { folder } = ThreadWorker;
    this.thread = new Thread(pathToFileURL(`${folder}/workerThread.mjs`), {
      workerData: { folder, program: pathToFileURL(`${folder}/${program}`).href },
    });
    this.endpoint = nodeEndpoint(this.thread);
    ThreadWorker.running.add(this);
  }

  postMessage(message: unknown, transfer: Transferable[] = []): void {
    this.thread.postMessage(message, transfer);
  }

  addEventListener(type: string, listener: EventListener): void {
    this.endpoint.addEventListener(type, listener);
  }

  removeEventListener(type: string, listener: EventListener): void {
    this.endpoint.removeEventListener(type, listener);
  }

  terminate(): void {
    ThreadWorker.running.delete(this);
    void this.thread.terminate();
  }
}

// Within a thread: what a worker finds around it in the browser, then its program.
if (parentPort && workerData && 'program' in (workerData as object)) {
  const { folder, program } = workerData as { folder: string; program: string };
  ThreadWorker.folder = folder;
  const { addEventListener, removeEventListener, postMessage } = nodeEndpoint(parentPort);
  const around = { addEventListener, removeEventListener, postMessage, Worker: ThreadWorker };
  for (const [name, value] of Object.entries(around))
    Object.defineProperty(globalThis, name, { value, configurable: true, writable: true });
  if (!('navigator' in globalThis))
    Object.defineProperty(globalThis, 'navigator', { value: { hardwareConcurrency: 2 } });
  void import(program);
}

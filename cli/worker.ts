import { parentPort } from 'node:worker_threads';
import { trouble } from './files';
import { work, type Task } from './work';

/** Steps of progress that are worth a message, of a whole file or of a slice's frames. */
const EVERY_MS = 50;

const port = parentPort!;

port.on('message', (task: Task) => {
  let told = 0;
  let frames = 0;
  const onProgress = (done: number): void => {
    frames = task.kind === 'slice' ? frames + done : done;
    const now = Date.now();
    if (now - told < EVERY_MS) return;
    told = now;
    port.postMessage({ progress: frames });
  };
  work(task, onProgress).then(
    (answer) => port.postMessage({ answer }),
    (error: unknown) => port.postMessage({ trouble: trouble(error) }),
  );
});

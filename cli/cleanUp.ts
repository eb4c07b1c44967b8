import { rmSync } from 'node:fs';
import { osPath } from './names';

/** Every signal that ends the program and can be caught. */
const SIGNALS = [
  'SIGINT',
  'SIGTERM',
  'SIGHUP',
  'SIGQUIT',
  'SIGABRT',
  'SIGALRM',
  'SIGVTALRM',
  'SIGPROF',
  'SIGUSR2',
  'SIGXCPU',
  'SIGXFSZ',
  'SIGTRAP',
  'SIGSYS',
  'SIGIO',
  'SIGPWR',
  'SIGSTKFLT',
] as const;

/** What must not be left behind, files and folders. */
const temporary = new Set<string>();
let watching = false;

function removeAll(): void {
  for (const path of temporary) {
    try {
      rmSync(osPath(path), { recursive: true, force: true });
    } catch {
      // Gone, or out of reach: nothing more can be done at the end.
    }
  }
  temporary.clear();
}

function watch(): void {
  if (watching) return;
  watching = true;
  process.on('exit', removeAll);
  for (const signal of SIGNALS) {
    try {
      process.once(signal, () => {
        removeAll();
        // Ends by the signal itself, so that whoever sent it sees what it did.
        process.kill(process.pid, signal);
      });
    } catch {
      // Not every system has every signal.
    }
  }
}

/** Removes this path, whatever ends the program; until it is kept. */
export function removeAtEnd(path: string): void {
  watch();
  temporary.add(path);
}

/** The path stays, or is gone already. */
export function forget(path: string): void {
  temporary.delete(path);
}

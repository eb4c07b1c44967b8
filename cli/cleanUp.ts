import { randomBytes } from 'node:crypto';
import { rmSync } from 'node:fs';
import { mkdir, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { osPath } from './names';
import { MARK_PATTERN, ownerMark, ownerState } from './owner';

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
      rmSync(osPath(path), { recursive: true, force: true, maxRetries: 3 });
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

const TEMPORARY = new RegExp(`^dengung-${MARK_PATTERN}-[0-9a-f]{18}$`);

/** Removes what runs have left in the temporary folder that were killed. */
async function sweepTemporary(): Promise<void> {
  for (const name of await readdir(tmpdir()).catch(() => [])) {
    const mark = TEMPORARY.exec(name)?.[1];
    if (mark !== undefined && ownerState(mark) === 'gone')
      await rm(join(tmpdir(), name), { recursive: true, force: true }).catch(() => undefined);
  }
}

/** Makes a folder for what is needed only meanwhile; it goes when the program ends, or the next one begins where it was killed. */
export async function temporaryFolder(): Promise<string> {
  await sweepTemporary();
  const path = join(tmpdir(), `dengung-${ownerMark()}-${randomBytes(9).toString('hex')}`);
  // Noted before it is made: a signal may come at any time.
  removeAtEnd(path);
  await mkdir(path, { mode: 0o700 });
  return path;
}

/** Removes this path, whatever ends the program; until it is kept. To be called before it is made. */
export function removeAtEnd(path: string): void {
  watch();
  temporary.add(path);
}

/** The path stays, or is gone already. */
export function forget(path: string): void {
  temporary.delete(path);
}

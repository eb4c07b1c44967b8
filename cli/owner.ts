import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { hostname } from 'node:os';

/**
 * Who a file belongs to that is there only while a process runs. The number of a process is given to another one sooner or later; with
 * the machine and the moment at which it was started it is given only once.
 */

const digest = (text: string, length: number): string =>
  createHash('sha256').update(text).digest('hex').slice(0, length);

const HOST = digest(hostname(), 6);

const textOf = (path: string): string | null => {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return null;
  }
};

/** When a process was started, in no particular unit; `null` where there is none of that number. */
function startOf(pid: number): string | null {
  const stat = textOf(`/proc/${pid}/stat`);
  // The name of the program stands in brackets and may hold anything; field 22 is the start, the third follows the bracket.
  if (stat !== null)
    return `${textOf('/proc/sys/kernel/random/boot_id')} ${stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19]}`;
  if (textOf('/proc/self/stat') !== null) return null;
  try {
    const started = execFileSync('ps', ['-o', 'lstart=', '-p', String(pid)], { encoding: 'utf8' }).trim();
    return started === '' ? null : started;
  } catch {
    return null;
  }
}

let own: string | null = null;

/** The mark of this process, to be put into names. */
export function ownerMark(): string {
  own ??= `${process.pid}-${HOST}-${digest(startOf(process.pid) ?? '', 10)}`;
  return own;
}

/** A mark in a name, as a regular expression with one group for it. */
export const MARK_PATTERN = String.raw`(\d+-[0-9a-f]{6}-[0-9a-f]{10})`;

/** How the process with a mark stands; of another machine nothing is known. */
export function ownerState(mark: string): 'this' | 'running' | 'gone' | 'elsewhere' {
  if (mark === ownerMark()) return 'this';
  const [pid, host, start] = mark.split('-');
  if (host !== HOST) return 'elsewhere';
  const now = startOf(Number(pid));
  return now !== null && digest(now, 10) === start ? 'running' : 'gone';
}

import { basename } from 'node:path';

const EVERY_MS = 100;

/** How far the work is, in one line on a terminal; nothing where stderr is no terminal. */
export class ProgressLine {
  private finished = 0;
  private readonly running = new Map<string, number>();
  private shown = 0;

  constructor(
    private readonly files: number,
    private readonly out: NodeJS.WriteStream = process.stderr,
  ) {}

  /** @param done part of this file, 0 to 1 */
  at(file: string, done: number): void {
    this.running.set(file, done);
    if (!this.out.isTTY || Date.now() - this.shown < EVERY_MS) return;
    this.shown = Date.now();
    const parts = [...this.running.values()].reduce((a, b) => a + b, 0);
    const percent = Math.floor(((this.finished + parts) / this.files) * 100);
    const text = `${percent} %, ${this.finished} of ${this.files} files, ${basename(file)}`;
    this.out.write(`\r\x1b[2K${text.slice(0, (this.out.columns || 80) - 1)}`);
  }

  finish(file: string): void {
    this.running.delete(file);
    this.finished++;
    this.clear();
  }

  /** Takes the line away, so that something else can be written. */
  clear(): void {
    if (this.out.isTTY) this.out.write('\r\x1b[2K');
  }
}

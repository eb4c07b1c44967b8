import { basename } from 'node:path';
import { SingleBar } from 'cli-progress';
import { shown } from './say';

/** Left for the figures beside a file's name, columns. */
const FIGURES = 32;

/** How far the work is, in one line on a terminal; nothing where stderr is no terminal. */
export class ProgressLine {
  private readonly running = new Map<string, number>();
  private finished = 0;
  private ended = false;
  private readonly bar: SingleBar;

  constructor(
    private readonly files: number,
    private readonly out: NodeJS.WriteStream = process.stderr,
  ) {
    this.bar = new SingleBar({
      stream: out,
      format: '{percentage} %, {finished} of {files} files, {name}',
      fps: 10,
      clearOnComplete: true,
      // A signal that ends the program must find the terminal as it was.
      linewrap: true,
    });
  }

  /** The work is over, however it ended: nothing more is shown. */
  end(): void {
    this.ended = true;
    this.clear();
  }

  /** @param done part of this file, 0 to 1 */
  at(file: string, done: number): void {
    if (this.ended) return;
    this.running.set(file, done);
    const parts = [...this.running.values()].reduce((a, b) => a + b, 0);
    const name = shown(basename(file)).slice(0, Math.max(0, (this.out.columns || 80) - FIGURES));
    const payload = { finished: this.finished, files: this.files, name };
    if (this.bar.isActive) this.bar.update(this.finished + parts, payload);
    else this.bar.start(this.files, this.finished + parts, payload);
  }

  finish(file: string): void {
    this.running.delete(file);
    this.finished++;
    this.clear();
  }

  /** Takes the line away, so that something else can be written. */
  clear(): void {
    if (this.bar.isActive) this.bar.stop();
  }
}

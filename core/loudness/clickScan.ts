import type { Kernel } from '@/core/kernels/kernel';
import { amplitudeToDb } from './decibels';
import type { ChunkListener } from './meter';

/** A place where the wave turns far more sharply than around it. */
export interface ScannedClick {
  readonly channel: number;
  /** Frame, to half a millisecond. */
  readonly frame: number;
  /** The turn itself, the largest second difference of the samples: dBFS. */
  readonly dbfs: number;
  /** Over the sharpest turn within {@link AROUND} ms of it, dB; infinite where there is none. */
  readonly overDb: number;
}

/**
 * What is compared on either side, cells of a millisecond: more than a period of the lowest notes, so that what turns sharply in
 * every period is no click.
 */
const AROUND = 50;
/** Cells right beside one: a click between two cells shows in both. */
const BESIDE = 1;
/** Nothing softer is kept, and nothing that stands out less: what is told is decided later. */
const LEAST = 10 ** (-60 / 20);
const LEAST_RATIO = 10 ** (6 / 20);
/** So many are kept; beyond that it is the sound itself that crackles. */
const MOST = 2_000;

/** Clicks of a slice of a signal, with what its neighbours need. */
export interface ClickScan {
  readonly clicks: readonly ScannedClick[];
  /** Per channel: its first and last cells, and how many there are. */
  readonly head: readonly Float32Array[];
  readonly tail: readonly Float32Array[];
  readonly cells: number;
  /** Frame at which it begins. */
  readonly start: number;
}

const cellStart = (cell: number, sampleRate: number): number => Math.round((cell * sampleRate) / 1000);

/** A click: its cell, how sharp it turns, and how much sharper than what is around it. */
interface FoundClick {
  readonly cell: number;
  readonly turn: number;
  readonly over: number;
}

/** Clicks among some cells. @param from first cell that is asked about, `to` the one after the last */
function clicksAmong(cells: ArrayLike<number>, from: number, to: number): FoundClick[] {
  const found: FoundClick[] = [];
  for (let i = from; i < to; i++) {
    const turn = cells[i]!;
    if (turn < LEAST || turn < (cells[i - 1] ?? 0) || turn <= (cells[i + 1] ?? 0)) continue;
    let around = 0;
    const most = turn / LEAST_RATIO;
    const end = Math.min(cells.length, i + AROUND + 1);
    for (let j = Math.max(0, i - AROUND); j < end && around <= most; j++)
      if (Math.abs(j - i) > BESIDE && cells[j]! > around) around = cells[j]!;
    if (around <= most) found.push({ cell: i, turn, over: turn / around });
  }
  return found;
}

const clickOf = (channel: number, turn: number, over: number, frame: number): ScannedClick => ({
  ...{ channel, frame, dbfs: amplitudeToDb(turn)! },
  overDb: Number.isFinite(over) ? amplitudeToDb(over)! : Infinity,
});

/** Cells are looked through so many at a time; no more are held. */
const ROOM = 4096;

/** The cells of one channel as they come: those that were asked about are let go. */
class ChannelCells {
  private readonly room = new Float64Array(ROOM);
  /** Which cell of all stands first in the room, and how many stand there. */
  private base = 0;
  private held = 0;
  /** The next cell to be asked about. */
  private next = AROUND;
  readonly head: number[] = [];
  readonly found: FoundClick[] = [];

  get count(): number {
    return this.base + this.held;
  }

  push(cells: Float32Array): void {
    for (let done = 0; done < cells.length;) {
      if (this.held === ROOM) this.look();
      const some = cells.subarray(done, done + ROOM - this.held);
      if (this.head.length < 2 * AROUND) this.head.push(...some.subarray(0, 2 * AROUND - this.head.length));
      this.room.set(some, this.held);
      this.held += some.length;
      done += some.length;
    }
  }

  /** Asks about all cells that have enough around them, and lets go what nobody needs then. */
  look(): void {
    const { base } = this;
    const to = this.count - AROUND;
    if (to <= this.next) return;
    for (const one of clicksAmong(this.room.subarray(0, this.held), this.next - base, to - base))
      if (this.found.length < MOST) this.found.push({ ...one, cell: base + one.cell });
    this.next = to;
    const gone = Math.max(0, to - AROUND - 1 - base);
    this.room.copyWithin(0, gone, this.held);
    this.base += gone;
    this.held -= gone;
  }

  get tail(): Float32Array {
    return Float32Array.from(this.room.subarray(Math.max(0, this.held - 2 * AROUND), this.held));
  }
}

/** Looks for clicks while a signal is measured. */
export class ClickScanner implements ChunkListener {
  private readonly cells: readonly ChannelCells[];

  constructor(
    channels: number,
    private readonly sampleRate: number,
    private readonly startFrame = 0,
  ) {
    this.cells = Array.from({ length: channels }, () => new ChannelCells());
  }

  chunk(kernel: Kernel, start: number, frames: number): void {
    const ends = this.endsOf(start, frames);
    // Before the sound there is nothing to turn from.
    const first = start === 0 ? 2 : 0;
    this.cells.forEach((cells, c) => cells.push(kernel.sharpest(c, first, ends)));
  }

  /** Where the cells of a chunk end, frames from its start. */
  private endsOf(start: number, frames: number): Int32Array {
    const ends: number[] = [];
    let from = 0;
    for (let cell = Math.round((start * 1000) / this.sampleRate); from < frames; cell++) {
      const to = Math.min(frames, cellStart(cell + 1, this.sampleRate) - start);
      if (to > from) ends.push(to);
      from = to;
    }
    return Int32Array.from(ends);
  }

  finish(): ClickScan {
    const { cells, sampleRate, startFrame } = this;
    const first = Math.round((startFrame * 1000) / sampleRate);
    for (const channel of cells) channel.look();
    const clicks = cells.flatMap(({ found }, c) =>
      found.map(({ cell, turn, over }) => clickOf(c, turn, over, cellStart(first + cell + 0.5, sampleRate))),
    );
    return {
      clicks: clicks.slice(0, MOST),
      head: cells.map((channel) => Float32Array.from(channel.head)),
      tail: cells.map((channel) => channel.tail),
      cells: cells[0]?.count ?? 0,
      start: startFrame,
    };
  }
}

/** Clicks where slices meet, at the start and at the end. */
function clicksAtEdge(
  before: ClickScan | undefined,
  after: ClickScan | undefined,
  sampleRate: number,
): ScannedClick[] {
  const channels = (before ?? after)!.head.length;
  return Array.from({ length: channels }, (_, c): ScannedClick[] => {
    const tail = before?.tail[c] ?? new Float32Array(0);
    const head = after?.head[c] ?? new Float32Array(0);
    const cells = new Float32Array(tail.length + head.length);
    cells.set(tail);
    cells.set(head, tail.length);
    // What one of them could tell by itself it has told.
    const from = before ? Math.max(0, tail.length - Math.min(AROUND, before.cells)) : 0;
    const to = after ? tail.length + Math.min(AROUND, after.cells) : cells.length;
    const startCell = (scan: ClickScan): number => Math.round((scan.start * 1000) / sampleRate);
    const first = before ? startCell(before) + before.cells - tail.length : startCell(after!);
    return clicksAmong(cells, from, to).map(({ cell, over }) =>
      clickOf(c, cells[cell]!, over, cellStart(first + cell + 0.5, sampleRate)),
    );
  }).flat();
}

/** The clicks of slices that follow each other, in order of time: the same as of all in one. */
export function joinClicks(scans: readonly ClickScan[], sampleRate: number): ScannedClick[] {
  const edges = scans.map((scan, i) => clicksAtEdge(scans[i - 1], scan, sampleRate));
  const end = clicksAtEdge(scans.at(-1), undefined, sampleRate);
  return [...scans.flatMap(({ clicks }) => clicks), ...edges.flat(), ...end]
    .sort((a, b) => a.frame - b.frame || a.channel - b.channel)
    .slice(0, MOST);
}

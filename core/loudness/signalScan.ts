import { KERNEL_HISTORY, type ChannelMeasures, type Kernel, type PairSums } from '@/core/kernels/kernel';
import { interpolatedPeak } from '@/core/kernels/plainPeaks';
import { ClickScanner, joinClicks, type ClickScan, type ScannedClick } from './clickScan';
import type { ChunkListener } from './meter';
import { joinSignal, SignalBlockMeter, type SignalBlocks } from './signalBlocks';

/** From here on a sample counts as clipped: the largest a 16-bit file can hold. */
const CLIP_LEVEL = 32767 / 32768;

/** A run of samples of one channel, frames of the signal. */
export interface Run {
  readonly channel: number;
  readonly start: number;
  readonly length: number;
}

/** The largest value met in a channel, and where. */
export interface Peak {
  /** Linear. */
  readonly value: number;
  /** Frame; a true peak lies between the sample some frames before it and this one. */
  readonly frame: number;
}

/** What the look at each sample of a slice found. Runs that touch its edges are kept whatever their length. */
export interface SignalScan {
  /** First frame, and after the last. */
  readonly start: number;
  readonly end: number;
  /** Of the channels. */
  readonly labels: readonly string[];
  readonly clippedSamples: readonly number[];
  /** Samples at full scale, {@link MIN_CLIPPED} in a row or more. */
  readonly clippedRuns: readonly Run[];
  /** Runs found, those beyond {@link MOST_RUNS} included. */
  readonly clippedRunCount: number;
  /** Digital silence, {@link MIN_SILENCE_SECONDS} or longer, with the loudest of the 16 samples before and after. */
  readonly zeroRuns: readonly ZeroRun[];
  /** Per channel: sum of the samples. */
  readonly sum: readonly number[];
  /** Of the first two channels; zero for mono. */
  readonly pair: PairSums;
  readonly blocks: SignalBlocks;
  /** Places where the wave turns far more sharply than around it. */
  readonly clicks: ClickScan;
  readonly samplePeaks: readonly Peak[];
  readonly truePeaks: readonly Peak[];
}

/** The same of a whole signal. */
export interface JoinedScan extends Omit<SignalScan, 'clicks'> {
  /** In order of time; at most some thousands. */
  readonly clicks: readonly ScannedClick[];
}

export interface ZeroRun extends Run {
  readonly before: number;
  readonly after: number;
}

/** Shortest run of full-scale samples that is taken for clipping. */
const MIN_CLIPPED = 3;
/** Shortest digital silence that is looked at, seconds. */
const MIN_SILENCE_SECONDS = 0.001;
/** Shortest digital silence that is listed, seconds. */
export const LISTED_SILENCE_SECONDS = 0.1;
/** A sample over this right beside digital silence was cut off, not faded, linear (−50 dBFS). */
export const ABRUPT = 10 ** (-50 / 20);
/** Runs listed per kind; the count goes on. */
const MOST_RUNS = 5_000;

/** Runs of one kind in one channel, across chunks. */
class RunFinder {
  readonly runs: Run[] = [];
  count = 0;
  private begin = -1;

  constructor(
    private readonly channel: number,
    private readonly shortest: number,
    private readonly sliceStart: number,
  ) {}

  get open(): boolean {
    return this.begin >= 0;
  }

  start(frame: number): void {
    if (this.begin < 0) this.begin = frame;
  }

  stop(frame: number): void {
    if (this.begin < 0) return;
    this.keep(frame, this.begin === this.sliceStart);
  }

  /** Ends the slice: a run that reaches its edge may go on in the next. */
  finish(frame: number): void {
    if (this.begin >= 0) this.keep(frame, true);
  }

  /** Takes the last run back. */
  drop(): void {
    const { length } = this.runs.pop()!;
    if (length >= this.shortest) this.count--;
  }

  private keep(end: number, atEdge: boolean): void {
    const run = { channel: this.channel, start: this.begin, length: end - this.begin };
    this.begin = -1;
    if (run.length < this.shortest && !atEdge) return;
    if (run.length >= this.shortest) this.count++;
    if (this.runs.length < MOST_RUNS || atEdge) this.runs.push(run);
  }
}

function loudest(samples: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = Math.max(0, from); i < to; i++) most = Math.max(most, Math.abs(samples[i]!));
  return most;
}

/** Looks for clipping, digital silence, offset and correlation while a signal is measured. */
export class SignalScanner implements ChunkListener {
  private readonly clips: RunFinder[];
  private readonly zeros: RunFinder[];
  private readonly clipped: number[];
  private readonly blocks: SignalBlockMeter;
  private readonly clicks: ClickScanner;
  private readonly channels: number;
  private readonly samplePeaks: Peak[];
  private readonly truePeaks: Peak[];
  private between = new Float32Array();
  private readonly edges = new Map<number, { before: number; after: number }>();
  private end: number;
  private readonly shortestListed: number;

  constructor(
    private readonly labels: readonly string[],
    sampleRate: number,
    private readonly startFrame = 0,
  ) {
    const channels = labels.length;
    this.channels = channels;
    this.blocks = new SignalBlockMeter(labels, sampleRate);
    this.clicks = new ClickScanner(channels, sampleRate, startFrame);
    const each = <T>(make: (channel: number) => T): T[] =>
      Array.from({ length: channels }, (_, c) => make(c));
    this.shortestListed = LISTED_SILENCE_SECONDS * sampleRate;
    const shortestSilence = Math.max(2, Math.round(MIN_SILENCE_SECONDS * sampleRate));
    this.clips = each((c) => new RunFinder(c, MIN_CLIPPED, startFrame));
    this.zeros = each((c) => new RunFinder(c, shortestSilence, startFrame));
    this.clipped = each(() => 0);
    this.samplePeaks = each(() => ({ value: 0, frame: startFrame }));
    this.truePeaks = each(() => ({ value: 0, frame: startFrame }));
    this.end = startFrame;
  }

  chunk(
    kernel: Kernel,
    start: number,
    frames: number,
    peakEnds: readonly number[],
    measures: readonly ChannelMeasures[],
  ): void {
    measures.forEach((measured, c) => {
      const samples = kernel.samples(c);
      let from = 0;
      peakEnds.forEach((to, block) => {
        this.peaks(c, samples, start, from, to, measured.samplePeak[block]!, measured.truePeak[block]!);
        this.clipping(c, samples, start, from, to, measured.samplePeak[block]!);
        this.silence(c, samples, start, from, to, measured.samplePeak[block]!, measured.silentCells[block]!);
        from = to;
      });
    });
    this.blocks.chunk(kernel, start, frames, peakEnds);
    this.clicks.chunk(kernel, start, frames);
    this.end = start + frames;
  }

  private peaks(
    c: number,
    samples: Float32Array,
    start: number,
    from: number,
    to: number,
    samplePeak: number,
    truePeak: number,
  ): void {
    if (samplePeak > this.samplePeaks[c]!.value) {
      let at = from;
      while (at < to - 1 && Math.abs(samples[KERNEL_HISTORY + at]!) < samplePeak) at++;
      this.samplePeaks[c] = { value: samplePeak, frame: start + at };
    }
    if (truePeak > this.truePeaks[c]!.value) {
      if (this.between.length < to - from) this.between = new Float32Array(to - from);
      const { between } = this;
      interpolatedPeak(samples, KERNEL_HISTORY + from, KERNEL_HISTORY + to, between);
      let best = -1;
      let place = from;
      for (let at = from; at < to; at++) {
        const found = Math.max(Math.abs(samples[KERNEL_HISTORY + at]!), between[at - from]!);
        if (found > best) {
          best = found;
          place = at;
        }
      }
      this.truePeaks[c] = { value: truePeak, frame: start + place };
    }
  }

  private clipping(
    c: number,
    samples: Float32Array,
    start: number,
    from: number,
    to: number,
    peak: number,
  ): void {
    const finder = this.clips[c]!;
    if (peak < CLIP_LEVEL) {
      finder.stop(start + from);
      return;
    }
    for (let at = from; at < to; at++) {
      if (Math.abs(samples[KERNEL_HISTORY + at]!) >= CLIP_LEVEL) {
        this.clipped[c]!++;
        finder.start(start + at);
      } else finder.stop(start + at);
    }
  }

  private silence(
    c: number,
    samples: Float32Array,
    start: number,
    from: number,
    to: number,
    peak: number,
    silentCells: number,
  ): void {
    const finder = this.zeros[c]!;
    if (peak === 0) {
      if (!finder.open) this.beginSilence(c, samples, start, from);
      return;
    }
    // A run of a millisecond or more holds a cell of zeros whole, or goes on from the block before.
    if (silentCells === 0 && !finder.open && samples[KERNEL_HISTORY + to - 1] !== 0) return;
    for (let at = from; at < to; at++) {
      const zero = samples[KERNEL_HISTORY + at] === 0;
      if (zero && !finder.open) this.beginSilence(c, samples, start, at);
      else if (!zero && finder.open) this.endSilence(c, samples, start, at, to);
    }
  }

  private key = (channel: number, frame: number): number => frame * this.channels + channel;
  private openBefore: number[] = [];

  private beginSilence(c: number, samples: Float32Array, start: number, at: number): void {
    // The zeros may have begun at the end of the block before, too few then to be noticed.
    let first = at;
    while (
      first > at - KERNEL_HISTORY &&
      start + first > this.startFrame &&
      samples[KERNEL_HISTORY + first - 1] === 0
    )
      first--;
    this.openBefore[c] = loudest(samples, first, KERNEL_HISTORY + first);
    this.zeros[c]!.start(start + first);
  }

  private endSilence(c: number, samples: Float32Array, start: number, at: number, to: number): void {
    const finder = this.zeros[c]!;
    const known = finder.runs.length;
    finder.stop(start + at);
    if (finder.runs.length === known) return;
    const after = loudest(samples, KERNEL_HISTORY + at, KERNEL_HISTORY + Math.min(to, at + KERNEL_HISTORY));
    const before = this.openBefore[c] ?? 0;
    const run = finder.runs.at(-1)!;
    // A short rest that fades in and out is neither silence to be listed nor a drop-out; speech has thousands.
    const matters =
      run.length >= this.shortestListed || Math.max(before, after) > ABRUPT || run.start === this.startFrame;
    if (matters) this.edges.set(this.key(c, run.start), { before, after });
    else finder.drop();
  }

  /** What was found; the scanner is done with. */
  finish(): SignalScan {
    for (const finder of [...this.clips, ...this.zeros]) finder.finish(this.end);
    return {
      start: this.startFrame,
      end: this.end,
      clippedSamples: this.clipped,
      clippedRuns: this.clips.flatMap((finder) => finder.runs),
      clippedRunCount: this.clips.reduce((sum, finder) => sum + finder.count, 0),
      zeroRuns: this.zeros.flatMap((finder, c) =>
        finder.runs.map((run) => ({
          ...run,
          ...(this.edges.get(this.key(c, run.start)) ?? { before: this.openBefore[c] ?? 0, after: 0 }),
        })),
      ),
      ...this.blocks.totals(),
      labels: this.labels,
      blocks: this.blocks.finish(),
      clicks: this.clicks.finish(),
      samplePeaks: this.samplePeaks,
      truePeaks: this.truePeaks,
    };
  }
}

function joinRuns<T extends Run>(parts: readonly (readonly T[])[], join: (a: T, b: T) => T): T[] {
  const channels = new Map<number, T[]>();
  for (const run of parts.flat()) {
    const list = channels.get(run.channel) ?? [];
    const last = list.at(-1);
    if (last && last.start + last.length === run.start) list[list.length - 1] = join(last, run);
    else list.push(run);
    channels.set(run.channel, list);
  }
  return [...channels.values()].flat();
}

/** Joins what was found in slices that follow each other. */
export function joinScans(scans: readonly SignalScan[], sampleRate: number): JoinedScan {
  const [first] = scans;
  const last = scans.at(-1);
  if (!first || !last) throw new RangeError('Nothing to join');
  const shortestSilence = Math.max(2, Math.round(MIN_SILENCE_SECONDS * sampleRate));
  const add = (of: (scan: SignalScan) => readonly number[]): number[] =>
    of(first).map((_, i) => scans.reduce((sum, scan) => sum + of(scan)[i]!, 0));
  const highest = (of: (scan: SignalScan) => readonly Peak[]): Peak[] =>
    of(first).map((_, c) => scans.map((scan) => of(scan)[c]!).reduce((a, b) => (b.value > a.value ? b : a)));
  const candidates = joinRuns(
    scans.map((scan) => scan.clippedRuns),
    (a, b) => ({ ...a, length: a.length + b.length }),
  );
  const clippedRuns = candidates.filter((run) => run.length >= MIN_CLIPPED);
  const unlisted = scans.reduce(
    (sum, scan) =>
      sum + scan.clippedRunCount - scan.clippedRuns.filter((run) => run.length >= MIN_CLIPPED).length,
    0,
  );
  return {
    start: first.start,
    end: last.end,
    clippedSamples: add((scan) => scan.clippedSamples),
    clippedRuns: clippedRuns.slice(0, MOST_RUNS),
    clippedRunCount: clippedRuns.length + unlisted,
    zeroRuns: joinRuns(
      scans.map((scan) => scan.zeroRuns),
      (a, b) => ({ ...a, length: a.length + b.length, after: b.after }),
    )
      .filter((run) => run.length >= shortestSilence)
      .slice(0, 2 * MOST_RUNS),
    sum: add((scan) => scan.sum),
    pair: add((scan) => scan.pair) as unknown as PairSums,
    labels: first.labels,
    blocks: joinSignal(
      scans.map((scan) => scan.blocks),
      first.labels,
      sampleRate,
    ),
    clicks: joinClicks(
      scans.map((scan) => scan.clicks),
      sampleRate,
    ),
    samplePeaks: highest((scan) => scan.samplePeaks),
    truePeaks: highest((scan) => scan.truePeaks),
  };
}

import { programmeLayout } from '@/core/audio/layout';
import {
  copySignal,
  emptySignal,
  putSignal,
  resizeSignal,
  type SignalBlocks,
} from '@/core/loudness/signalBlocks';
import {
  emptyWeighted,
  peakBlockCount,
  PEAK_SUB_BLOCKS,
  resizeWeighted,
  subBlockCount,
  SUB_BLOCKS_PER_SECOND,
  type WeightedHistory,
} from '@/core/loudness/subBlocks';
import { programmeFrames, type Project } from '@/core/programme/model';
import { areAlike, soundDifferences } from '@/core/signal/differences';
import type { OpenSource } from '@/core/signal/source';
import type { Span } from '@/core/signal/station';
import { adoptGain } from './adoptGain';
import { addRange, removeRange, touchedBlocks, type SubBlockRange } from './dirtyRanges';
import type { MovingSums } from './movingSums';
import { StandingReductions, type ReductionBlocks } from './reductions';
import { measureRange, putRange, type RangeMeasurement } from './measureRange';

/** A range that was taken out to be measured. */
interface TakenRange {
  readonly range: SubBlockRange;
  /** An edit has touched it meanwhile. */
  readonly stale: boolean;
}

/** Sub-blocks measured at a time: short enough to be superseded soon, long enough to be worth the settling before it. */
const PIECE = 10 * SUB_BLOCKS_PER_SECOND;

/**
 * The measurement of a programme, kept up to date: an edit dirties a time range, and only that range (after the
 * filters have settled on what comes before it) is rendered and measured anew.
 */
export class ProgrammeMeasurement {
  private project: Project | null = null;
  private measured: WeightedHistory | null = null;
  private blocks: SignalBlocks | null = null;
  private reductions = new StandingReductions();
  private dirtyRanges: SubBlockRange[] = [];
  /** What the last edit touched. */
  private newest: SubBlockRange[] = [];
  private readonly taken = new Set<{ readonly range: SubBlockRange; stale: boolean }>();

  /** What stands measured; ranges that are still dirty hold old or empty sub-blocks. */
  get history(): WeightedHistory | null {
    return this.measured;
  }

  /** Sums over its samples, as far as they are measured; `null` before anything is. */
  get signal(): SignalBlocks | null {
    return this.blocks;
  }

  /** What limiters take off, as far as it is measured. */
  get reduction(): ReductionBlocks {
    return this.reductions.blocks;
  }

  /** Ranges that must be measured anew. */
  get dirty(): readonly SubBlockRange[] {
    return this.dirtyRanges;
  }

  /** Takes over the present state of the programme and finds out what it dirties. */
  update(project: Project): void {
    const frames = programmeFrames(project);
    const old = this.project;
    const history = this.measured;
    this.newest = [];
    if (!old || !history || !areAlike(old, project)) {
      this.reductions = new StandingReductions();
      const { sampleRate } = project;
      const layout = programmeLayout(project.layoutId);
      this.measured = emptyWeighted(layout, sampleRate, frames);
      this.blocks = emptySignal(layout.labels, sampleRate, peakBlockCount(frames, sampleRate));
      this.dirtyRanges = addRange([], { from: 0, to: subBlockCount(frames, project.sampleRate) });
      for (const taken of this.taken) taken.stale = true;
    } else {
      if (frames !== history.frames) {
        this.measured = resizeWeighted(history, frames);
        const { sampleRate } = project;
        const end = subBlockCount(frames, sampleRate);
        this.blocks = resizeSignal(
          this.blocks!,
          history.layout.labels,
          sampleRate,
          peakBlockCount(frames, sampleRate),
        );
        this.reductions.clear(Math.ceil(end / PEAK_SUB_BLOCKS), Infinity);
        // Ranges on their way may end with the old end, or lie beyond the new one.
        for (const taken of this.taken) this.makeStale(taken);
        const shorter = Math.min(frames, history.frames);
        this.dirtyRanges = removeRange(this.dirtyRanges, {
          from: end,
          to: Infinity,
        });
        // The last sub-block may have been incomplete, and carried the ringing of the true-peak filter.
        const last = { from: shorter - 1, to: Math.max(frames, history.frames) };
        this.markDirty(last, project.sampleRate, frames);
      }
      for (const span of soundDifferences(old, project)) this.markDirty(span, project.sampleRate, frames);
    }
    this.project = project;
  }

  /**
   * Takes over a state in which some clips have another gain, from the sums for it: only peaks are measured anew, where
   * others sound beside them.
   * @param sums of the state that stands measured; all of it must be
   */
  updateByGain(project: Project, sums: MovingSums, changeDb: number): void {
    this.project = project;
    this.newest = adoptGain(this.measured!, this.blocks!, sums, changeDb);
    for (const range of this.newest) this.dirtyRanges = addRange(this.dirtyRanges, range);
  }

  /** A copy of what stands measured, to measure another state from; what is on its way is dirty in it. */
  fork(): ProgrammeMeasurement {
    const fork = new ProgrammeMeasurement();
    const { measured, blocks } = this;
    fork.project = this.project;
    if (measured) {
      const copied = <T extends Float32Array>(channels: readonly T[]) => channels.map((one) => one.slice());
      fork.measured = {
        ...measured,
        energy: measured.energy.slice(),
        samplePeak: copied(measured.samplePeak),
        truePeak: copied(measured.truePeak),
      };
    }
    fork.blocks = blocks && copySignal(blocks);
    fork.reductions = this.reductions.copy();
    fork.dirtyRanges = [...this.dirtyRanges];
    for (const { range, stale } of this.taken)
      if (!stale) fork.dirtyRanges = addRange(fork.dirtyRanges, range);
    return fork;
  }

  /** The state that stands measured, or is being measured. */
  get of(): Project | null {
    return this.project;
  }

  private markDirty(span: Span, sampleRate: number, frames: number): void {
    const range = touchedBlocks(span, sampleRate, frames);
    if (range.from >= range.to) return;
    this.dirtyRanges = addRange(this.dirtyRanges, range);
    this.newest = addRange(this.newest, range);
    for (const taken of this.taken)
      if (taken.range.from < range.to && taken.range.to > range.from) this.makeStale(taken);
  }

  private makeStale(taken: { readonly range: SubBlockRange; stale: boolean }): void {
    if (taken.stale) return;
    taken.stale = true;
    this.dirtyRanges = addRange(this.dirtyRanges, taken.range);
  }

  /**
   * Takes a range out to be measured: of what the last edit touched first, then of what is looked at, then from the start.
   * @param most sub-blocks, in whole peak blocks
   * @param seen what is looked at
   * @returns `null` when everything is measured or on its way
   */
  take(most: number, seen: SubBlockRange | null = null): TakenRange | null {
    const within = (wanted: SubBlockRange): SubBlockRange | undefined =>
      this.dirtyRanges
        .map(({ from, to }) => ({ from: Math.max(from, wanted.from), to: Math.min(to, wanted.to) }))
        .find(({ from, to }) => from < to);
    const next =
      this.newest.map(within).find(Boolean) ?? (seen ? within(seen) : undefined) ?? this.dirtyRanges[0];
    if (!next) return null;
    const range = { from: next.from, to: Math.min(next.to, next.from + most) };
    this.dirtyRanges = removeRange(this.dirtyRanges, range);
    const taken = { range, stale: false };
    this.taken.add(taken);
    return taken;
  }

  /** Puts a measured range where it belongs. What an edit has touched meanwhile is dirty again, and nothing is put. */
  put(taken: TakenRange, part: RangeMeasurement): void {
    if (!this.taken.delete(taken) || taken.stale) return;
    putRange(this.measured!, taken.range, part);
    putSignal(this.blocks!, part.signal, taken.range.from / PEAK_SUB_BLOCKS);
    this.reductions.put(taken.range, part.reduction);
  }

  /** Gives a range back unmeasured. */
  giveBack(taken: TakenRange): void {
    if (this.taken.delete(taken) && !taken.stale) this.dirtyRanges = addRange(this.dirtyRanges, taken.range);
  }

  /** Sub-blocks that are dirty or on their way. */
  get left(): number {
    let left = 0;
    for (const { from, to } of this.dirtyRanges) left += to - from;
    for (const { range, stale } of this.taken) if (!stale) left += range.to - range.from;
    return left;
  }

  /**
   * Measures all that is dirty, one range after the other.
   * @param proceed asked between ranges of ten seconds with the part done (0 to 1); `false` stops, and what is not yet
   * measured stays dirty
   * @returns whether everything is measured
   */
  async measure(
    openSource: OpenSource,
    proceed: (done: number) => boolean | Promise<boolean>,
  ): Promise<boolean> {
    const total = this.left;
    for (let taken = this.take(PIECE); taken; taken = this.take(PIECE)) {
      this.put(taken, (await measureRange(this.project!, taken.range, openSource))!);
      if (this.left > 0 && !(await proceed(1 - this.left / total))) return false;
    }
    return true;
  }
}

import { programmeLayout } from '@/core/audio/layout';
import { KERNEL_HISTORY, type Kernel } from '@/core/kernels/kernel';
import { newKernel } from '@/core/kernels/newKernel';
import type { Clip, Id, Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { heardWithin } from '@/core/signal/audible';
import { EVERYTHING, renderTaps } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import { settlingFrames, type SubBlockRange } from './dirtyRanges';
import { visitSettled, type Sounds, type SubBlocks, type Visitor } from './settled';

/** What the clips of a range bring to the gated energy of the programme; ranges are added up. */
export interface ShareSums {
  /** By clip: Σ weight·⟨P,M⟩ of the whole programme P and the clip M, cross terms with all other clips included. */
  readonly clips: ReadonlyMap<Id, number>;
}

/** A sound written to every other channel of a kernel, from `first` on; silence where there is none. */
function put(kernel: Kernel, first: 0 | 1, sound: readonly Float32Array[] | undefined, frames: number): void {
  for (let c = 0; 2 * c < kernel.channels; c++) {
    const samples = kernel.samples(2 * c + first);
    if (sound) samples.set(sound[c]!, KERNEL_HISTORY);
    else samples.fill(0, KERNEL_HISTORY, KERNEL_HISTORY + frames);
  }
}

/**
 * Takes the products of each clip with the whole programme over a range: both as taps of one mix, before its limiters, which
 * would make the whole another than the sum of its clips.
 * @param weights per sub-block of the programme, see `gatedWeights`
 * @param proceed asked between pieces of a second; `false` stops
 * @returns `null` when stopped
 */
export function measureShares(
  project: Project,
  weights: Float64Array,
  range: SubBlockRange,
  openSource: OpenSource,
  proceed: () => boolean | Promise<boolean>,
): Promise<ShareSums | null> {
  const linear = withoutLimiters(project);
  return visitSettled(linear, range, new Shares(linear, weights, openSource), proceed);
}

class Shares implements Visitor<ShareSums> {
  private readonly layout;
  private readonly tail: number;
  /** For each clip that sounds or still rings: the whole programme and the clip as pairs. */
  private readonly kernels = new Map<Id, Kernel>();
  private readonly sums = new Map<Id, number>();
  /** The clips that were rendered last, after the whole. */
  private rendered: readonly Clip[] = [];
  /** The end of the whole that was taken last. */
  private before: readonly Float32Array[] | null = null;

  constructor(
    private readonly project: Project,
    private readonly weights: Float64Array,
    private readonly openSource: OpenSource,
  ) {
    this.layout = programmeLayout(project.layoutId);
    this.tail = settlingFrames(project.sampleRate);
  }

  render(start: number, count: number): Promise<Sounds> {
    this.rendered = this.within(start, start + count);
    const taps = this.rendered.map((own) => (clip: Clip) => clip === own);
    return renderTaps(this.project, this.openSource, start, count, [EVERYTHING, ...taps]);
  }

  private within(from: number, to: number): readonly Clip[] {
    return heardWithin(this.project, { from, to }).map(({ clip }) => clip);
  }

  /** A kernel for a clip, settled on the programme before it. */
  private kernelOf(id: Id): Kernel {
    const known = this.kernels.get(id);
    if (known) return known;
    const { sampleRate } = this.project;
    const kernel = newKernel(sampleRate, 2 * this.layout.labels.length, sampleRate + 1);
    this.kernels.set(id, kernel);
    const frames = this.before?.[0]?.length ?? 0;
    if (frames > 0) {
      put(kernel, 0, this.before!, frames);
      put(kernel, 1, undefined, frames);
      kernel.settle(frames);
      kernel.advance(frames);
    }
    return kernel;
  }

  settle([whole, ...sounds]: Sounds, frames: number): void {
    this.rendered.forEach(({ id }, i) => {
      const kernel = this.kernelOf(id);
      put(kernel, 0, whole!, frames);
      put(kernel, 1, sounds[i], frames);
      kernel.settle(frames);
      kernel.advance(frames);
    });
    this.before = whole!;
  }

  take([whole, ...sounds]: Sounds, { from, start, frames, ends }: SubBlocks): void {
    const soundOf = new Map(this.rendered.map(({ id }, i) => [id, sounds[i]!]));
    // What has ended rings on a little.
    const there = this.within(start - this.tail, start + frames);
    for (const { id } of there) {
      const kernel = this.kernelOf(id);
      put(kernel, 0, whole!, frames);
      put(kernel, 1, soundOf.get(id), frames);
      let sum = this.sums.get(id) ?? 0;
      kernel.products(ends(1)).forEach(({ ab }, c) => {
        const weight = this.layout.weights[c]!;
        for (let i = 0; i < ab.length; i++) sum += weight * (this.weights[from + i] ?? 0) * ab[i]!;
      });
      this.sums.set(id, sum);
      kernel.advance(frames);
    }
    const ids = new Set(there.map(({ id }) => id));
    for (const [id, kernel] of this.kernels) {
      if (ids.has(id)) continue;
      kernel.release();
      this.kernels.delete(id);
    }
    this.before = whole!.map((channel) => channel.slice(Math.max(0, channel.length - this.tail)));
  }

  finish(): ShareSums {
    return { clips: this.sums };
  }

  release(): void {
    for (const kernel of this.kernels.values()) kernel.release();
  }
}

/**
 * Each clip's share of the programme's gated energy: they add up to 1. A clip that cancels others has a share under 0.
 * @param ranges what was taken of all parts of the programme
 */
export function sharesOf(ranges: readonly ShareSums[]): Map<Id, number> {
  const sums = new Map<Id, number>();
  for (const { clips } of ranges) for (const [id, sum] of clips) sums.set(id, (sums.get(id) ?? 0) + sum);
  const total = [...sums.values()].reduce((a, b) => a + b, 0);
  if (!(total > 0)) return new Map();
  return new Map([...sums].map(([id, sum]) => [id, sum / total]));
}

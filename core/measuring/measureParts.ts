import { programmeLayout } from '@/core/audio/layout';
import { KERNEL_HISTORY, type Kernel } from '@/core/kernels/kernel';
import { newKernel } from '@/core/kernels/newKernel';
import { PEAK_SUB_BLOCKS, subBlockStart } from '@/core/loudness/subBlocks';
import type { Project } from '@/core/programme/model';
import { withoutLimiters } from '@/core/signal/asRecorded';
import { heardWithin } from '@/core/signal/audible';
import { EVERYTHING, renderTaps } from '@/core/signal/mix';
import type { OpenSource } from '@/core/signal/source';
import { settlingFrames, type SubBlockRange } from './dirtyRanges';
import { partsOf, type Part } from './parts';
import { visitSettled, type Sounds, type SubBlocks, type Visitor } from './settled';

/** What one part brings, weighted energies of every 100 ms. */
export interface PartEnergies {
  /** ⟨P,M⟩ of the whole programme P and the part M: cross terms with all else included. */
  readonly cross: Float64Array;
  /** ⟨M,M⟩: the part by itself. */
  readonly own: Float64Array;
}

/** The parts of a programme over a range, before limiters. */
export interface PartSums {
  /** First of its peak blocks (100 ms). */
  readonly from: number;
  /** ⟨P,P⟩ of every 100 ms, weighted. */
  readonly whole: Float64Array;
  /** By key; what does not sound in the range is left out. */
  readonly parts: ReadonlyMap<string, PartEnergies>;
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
 * Takes the products of each part with the whole programme over a range: all as taps of one mix, before its limiters, which
 * would make the whole another than the sum of its parts.
 * @param range in whole peak blocks, or to the programme's end
 * @param proceed asked between pieces of a second; `false` stops
 * @returns `null` when stopped
 */
export function measureParts(
  project: Project,
  range: SubBlockRange,
  openSource: OpenSource,
  proceed: () => boolean | Promise<boolean>,
): Promise<PartSums | null> {
  const linear = withoutLimiters(project);
  return visitSettled(linear, range, new Parts(linear, range, openSource), proceed);
}

const WHOLE = 'whole';

class Parts implements Visitor<PartSums> {
  private readonly layout;
  private readonly tail: number;
  private readonly parts: readonly Part[];
  /** For each part that sounds or still rings: the whole programme and the part as pairs. */
  private readonly kernels = new Map<string, Kernel>();
  private readonly sums = new Map<string, PartEnergies>();
  private readonly whole: Float64Array;
  /** The parts that were rendered last, after the whole. */
  private rendered: readonly Part[] = [];
  /** The end of the whole that was taken last. */
  private before: readonly Float32Array[] | null = null;

  constructor(
    private readonly project: Project,
    private readonly range: SubBlockRange,
    private readonly openSource: OpenSource,
  ) {
    this.layout = programmeLayout(project.layoutId);
    this.tail = settlingFrames(project.sampleRate);
    const at = (k: number): number => subBlockStart(k, project.sampleRate);
    const heard = heardWithin(project, { from: at(range.from) - 2 * this.tail, to: at(range.to) });
    this.parts = partsOf({ tracks: project.tracks, clips: heard.map(({ clip }) => clip) });
    this.whole = this.empty();
  }

  private empty(): Float64Array {
    return new Float64Array(Math.ceil((this.range.to - this.range.from) / PEAK_SUB_BLOCKS));
  }

  render(start: number, count: number): Promise<Sounds> {
    this.rendered = this.within(start, start + count);
    const taps = this.rendered.map(({ hears }) => hears);
    return renderTaps(this.project, this.openSource, start, count, [EVERYTHING, ...taps]);
  }

  private within(from: number, to: number): readonly Part[] {
    const heard = heardWithin(this.project, { from, to }).map(({ clip }) => clip);
    return this.parts.filter(({ hears }) => heard.some(hears));
  }

  /** A kernel for a part, settled on the programme before it. */
  private kernelOf(key: string): Kernel {
    const known = this.kernels.get(key);
    if (known) return known;
    const { sampleRate } = this.project;
    const kernel = newKernel(sampleRate, 2 * this.layout.labels.length, sampleRate + 1);
    this.kernels.set(key, kernel);
    const frames = this.before?.[0]?.length ?? 0;
    if (frames > 0) {
      put(kernel, 0, this.before!, frames);
      put(kernel, 1, undefined, frames);
      kernel.settle(frames);
      kernel.advance(frames);
    }
    return kernel;
  }

  private settleOne(key: string, whole: readonly Float32Array[], sound: Sounds[number] | undefined): void {
    const frames = whole[0]!.length;
    const kernel = this.kernelOf(key);
    put(kernel, 0, whole, frames);
    put(kernel, 1, sound, frames);
    kernel.settle(frames);
    kernel.advance(frames);
  }

  settle([whole, ...sounds]: Sounds): void {
    this.settleOne(WHOLE, whole!, undefined);
    this.rendered.forEach(({ key }, i) => this.settleOne(key, whole!, sounds[i]));
    this.before = whole!;
  }

  /** Adds up products of sub-blocks by the 100 ms they lie in. */
  private add(target: Float64Array, values: Float64Array, weight: number, from: number): void {
    for (let i = 0; i < values.length; i++)
      target[Math.floor((from - this.range.from + i) / PEAK_SUB_BLOCKS)]! += weight * values[i]!;
  }

  take([whole, ...sounds]: Sounds, { from, start, frames, ends }: SubBlocks): void {
    const soundOf = new Map(this.rendered.map(({ key }, i) => [key, sounds[i]!]));
    // What has ended rings on a little.
    const keys = [WHOLE, ...this.within(start - this.tail, start + frames).map(({ key }) => key)];
    for (const key of keys) {
      const kernel = this.kernelOf(key);
      put(kernel, 0, whole!, frames);
      put(kernel, 1, soundOf.get(key), frames);
      const products = kernel.products(ends(1));
      if (key === WHOLE) {
        products.forEach(({ aa }, c) => this.add(this.whole, aa, this.layout.weights[c]!, from));
      } else {
        const sums = this.sums.get(key) ?? { cross: this.empty(), own: this.empty() };
        this.sums.set(key, sums);
        products.forEach(({ ab, bb }, c) => {
          this.add(sums.cross, ab, this.layout.weights[c]!, from);
          this.add(sums.own, bb, this.layout.weights[c]!, from);
        });
      }
      kernel.advance(frames);
    }
    const there = new Set(keys);
    for (const [key, kernel] of this.kernels) {
      if (there.has(key)) continue;
      kernel.release();
      this.kernels.delete(key);
    }
    this.before = whole!.map((channel) => channel.slice(Math.max(0, channel.length - this.tail)));
  }

  finish(): PartSums {
    return { from: this.range.from / PEAK_SUB_BLOCKS, whole: this.whole, parts: this.sums };
  }

  release(): void {
    for (const kernel of this.kernels.values()) kernel.release();
  }
}

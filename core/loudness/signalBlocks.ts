import { KERNEL_HISTORY, type Kernel, type PairSums } from '@/core/kernels/kernel';
import type { ChunkListener } from './meter';

/** Sums over the samples of every peak block (100 ms): what tells offset, phase, sides and bands apart later. */
export interface SignalBlocks {
  /** Frames of a full block. */
  readonly framesPerBlock: number;
  /** Per channel: sum of the samples. */
  readonly sum: readonly Float32Array[];
  /** Per channel: sum of their squares. */
  readonly power: readonly Float32Array[];
  /** Sum of the products of the first two channels; empty for one channel. */
  readonly product: Float32Array;
  /** Per channel: sum of the squared steps from sample to sample, where {@link isBass} is to be told; else empty. */
  readonly steps: readonly Float32Array[];
}

/** Whether a channel is for bass only. */
export const isBass = (label: string): boolean => label.startsWith('LFE');

/** Blocks of silence. @param labels of the channels */
export function emptySignal(labels: readonly string[], sampleRate: number, blocks: number): SignalBlocks {
  const each = (length: number): Float32Array[] => labels.map(() => new Float32Array(length));
  return {
    framesPerBlock: sampleRate / 10,
    sum: each(blocks),
    power: each(blocks),
    product: new Float32Array(labels.length > 1 ? blocks : 0),
    steps: each(labels.some(isBass) ? blocks : 0),
  };
}

/** All its arrays, in an order of their own. */
export const signalArrays = ({ sum, power, product, steps }: SignalBlocks): Float32Array[] => [
  ...sum,
  ...power,
  product,
  ...steps,
];

/** Writes some blocks over others, from block `at` on; what lies past the end is left out. */
export function putSignal(into: SignalBlocks, part: SignalBlocks, at: number): void {
  const targets = signalArrays(into);
  signalArrays(part).forEach((values, i) => {
    const target = targets[i]!;
    if (target.length > at) target.set(values.subarray(0, target.length - at), at);
  });
}

/** A copy that goes its own way. */
export const copySignal = (signal: SignalBlocks): SignalBlocks => ({
  framesPerBlock: signal.framesPerBlock,
  sum: signal.sum.map((values) => values.slice()),
  power: signal.power.map((values) => values.slice()),
  product: signal.product.slice(),
  steps: signal.steps.map((values) => values.slice()),
});

/** A copy with another number of blocks: what is common stays, what is new is silence. */
export function resizeSignal(
  signal: SignalBlocks,
  labels: readonly string[],
  sampleRate: number,
  blocks: number,
): SignalBlocks {
  const resized = emptySignal(labels, sampleRate, blocks);
  putSignal(resized, signal, 0);
  return resized;
}

/** Gives each channel of some blocks another level. @param factors per channel */
export function scaleSignal(signal: SignalBlocks, block: number, factors: readonly number[]): void {
  const { sum, power, product, steps } = signal;
  factors.forEach((factor, c) => {
    sum[c]![block]! *= factor;
    power[c]![block]! *= factor * factor;
    if (steps[c]!.length > 0) steps[c]![block]! *= factor * factor;
  });
  if (product.length > 0) product[block]! *= factors[0]! * factors[1]!;
}

/** Sum of the squared steps from sample to sample of frames [from, to) of a chunk. */
function squaredSteps(samples: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = KERNEL_HISTORY + from; i < KERNEL_HISTORY + to; i++) {
    const step = samples[i]! - samples[i - 1]!;
    sum += step * step;
  }
  return sum;
}

/** Takes {@link SignalBlocks} while a signal is measured. */
export class SignalBlockMeter implements ChunkListener {
  private readonly sum: number[][];
  private readonly power: number[][];
  private readonly product: number[] = [];
  private readonly steps: number[][];
  private readonly bass: boolean;

  constructor(
    private readonly labels: readonly string[],
    private readonly sampleRate: number,
  ) {
    this.sum = labels.map(() => []);
    this.power = labels.map(() => []);
    this.steps = labels.map(() => []);
    this.bass = labels.some(isBass);
  }

  chunk(kernel: Kernel, _start: number, _frames: number, peakEnds: readonly number[]): void {
    const channels = this.labels.length;
    for (let c = 0; c < channels; c += 2) {
      const other = Math.min(c + 1, channels - 1);
      let from = 0;
      for (const to of peakEnds) {
        const [a, b, aa, bb, ab] = kernel.sums(c, other, from, to);
        this.sum[c]!.push(a);
        this.power[c]!.push(aa);
        if (other !== c) {
          this.sum[other]!.push(b);
          this.power[other]!.push(bb);
        }
        if (c === 0 && other !== c) this.product.push(ab);
        from = to;
      }
    }
    if (!this.bass) return;
    this.steps.forEach((steps, c) => {
      const samples = kernel.samples(c);
      let from = 0;
      for (const to of peakEnds) {
        steps.push(squaredSteps(samples, from, to));
        from = to;
      }
    });
  }

  /** Sums over all of it: per channel of the samples, and of the first two channels; zero for one. */
  totals(): { readonly sum: number[]; readonly pair: PairSums } {
    const total = (values: readonly number[] | undefined): number =>
      (values ?? []).reduce((a, b) => a + b, 0);
    const { sum, power, product } = this;
    const two = sum.length > 1;
    return {
      sum: sum.map(total),
      pair: two
        ? [total(sum[0]), total(sum[1]), total(power[0]), total(power[1]), total(product)]
        : [0, 0, 0, 0, 0],
    };
  }

  /** What was taken so far. */
  finish(): SignalBlocks {
    const { sum, power, product, steps } = this;
    const floats = (lists: readonly number[][]): Float32Array[] =>
      lists.map((list) => Float32Array.from(list));
    return {
      framesPerBlock: this.sampleRate / 10,
      sum: floats(sum),
      power: floats(power),
      product: Float32Array.from(product),
      steps: floats(steps),
    };
  }
}

/** Blocks that follow each other. */
export function joinSignal(
  parts: readonly SignalBlocks[],
  labels: readonly string[],
  sampleRate: number,
): SignalBlocks {
  const blocks = parts.reduce((sum, part) => sum + part.sum[0]!.length, 0);
  const joined = emptySignal(labels, sampleRate, blocks);
  let at = 0;
  for (const part of parts) {
    putSignal(joined, part, at);
    at += part.sum[0]!.length;
  }
  return joined;
}

import { programmeLayout } from '@/core/audio/layout';
import { KERNEL_HISTORY, type Kernel } from '@/core/kernels/kernel';
import { newKernel } from '@/core/kernels/newKernel';
import { SETTLING_SECONDS } from '@/core/loudness/kWeighting';
import { subBlockStart, SUB_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { clipEnd, programmeFrames, type Clip, type Id, type Project } from '@/core/programme/model';
import type { SubBlockRange } from './dirtyRanges';
import { audibleClips, renderRange } from './mix';
import type { OpenSource } from './sourceAt';

/** Sub-blocks rendered at a time. */
const PIECE = SUB_BLOCKS_PER_SECOND;

/** What the clips of a range bring to the gated energy of the programme; ranges are added up. */
export interface ShareSums {
  /** By clip: Σ weight·⟨P,M⟩ of the whole programme P and the clip M, cross terms with all other clips included. */
  readonly clips: ReadonlyMap<Id, number>;
}

/** One signal written to every other channel of a kernel, from `first` on; silence where there is none. */
function put(kernel: Kernel, first: 0 | 1, signal: readonly Float32Array[] | null, frames: number): void {
  for (let c = 0; 2 * c < kernel.channels; c++) {
    const samples = kernel.samples(2 * c + first);
    if (signal) samples.set(signal[c]!, KERNEL_HISTORY);
    else samples.fill(0, KERNEL_HISTORY, KERNEL_HISTORY + frames);
  }
}

/**
 * Takes the products of each clip with the whole programme over a range.
 * @param weights per sub-block of the programme, see `gatedWeights`
 * @param proceed asked between pieces of a second; `false` stops
 * @returns `null` when stopped
 */
export async function measureShares(
  project: Project,
  weights: Float64Array,
  range: SubBlockRange,
  openSource: OpenSource,
  proceed: () => boolean | Promise<boolean>,
): Promise<ShareSums | null> {
  const { sampleRate } = project;
  const layout = programmeLayout(project.layoutId);
  const channels = layout.labels.length;
  const end = programmeFrames(project);
  const frame = (k: number): number => Math.min(subBlockStart(k, sampleRate), end);
  const tail = Math.ceil(SETTLING_SECONDS * sampleRate);
  const clips = audibleClips(project);
  const kernels = new Map<Id, Kernel>();
  const sums = new Map<Id, number>();

  /** Every clip that sounds, or still rings, in a stretch, and their sum. */
  const render = async (from: number, to: number) => {
    const parts: { readonly clip: Clip; readonly sound: Float32Array[] | null }[] = [];
    const whole = layout.labels.map(() => new Float32Array(to - from));
    for (const clip of clips) {
      if (clip.start >= to || clipEnd(clip) + tail <= from) continue;
      const sounds = clipEnd(clip) > from;
      const sound = sounds ? await renderRange(project, openSource, from, to - from, [clip]) : null;
      sound?.forEach((channel, c) => {
        const target = whole[c]!;
        for (let i = 0; i < channel.length; i++) target[i]! += channel[i]!;
      });
      parts.push({ clip, sound });
    }
    return { parts, whole };
  };
  const kernelOf = (id: Id, before: readonly Float32Array[] | null): Kernel => {
    const known = kernels.get(id);
    if (known) return known;
    const kernel = newKernel(sampleRate, 2 * channels, sampleRate + 1);
    kernels.set(id, kernel);
    const frames = before?.[0]?.length ?? 0;
    if (frames > 0) {
      put(kernel, 0, before, frames);
      put(kernel, 1, null, frames);
      kernel.settle(frames);
      kernel.advance(frames);
    }
    return kernel;
  };

  try {
    const begin = frame(range.from);
    const settleFrom = Math.max(0, begin - tail);
    let before: Float32Array[] | null = null;
    if (settleFrom < begin) {
      const { parts, whole } = await render(settleFrom, begin);
      before = whole;
      for (const { clip, sound } of parts) {
        const kernel = kernelOf(clip.id, null);
        put(kernel, 0, whole, begin - settleFrom);
        put(kernel, 1, sound, begin - settleFrom);
        kernel.settle(begin - settleFrom);
        kernel.advance(begin - settleFrom);
      }
    }
    for (let k = range.from; k < range.to;) {
      const next = Math.min(range.to, k + PIECE);
      const [from, to] = [frame(k), frame(next)];
      const ends = Array.from({ length: next - k }, (_, i) => frame(k + i + 1) - from);
      const { parts, whole } = await render(from, to);
      for (const { clip, sound } of parts) {
        const kernel = kernelOf(clip.id, before);
        put(kernel, 0, whole, to - from);
        put(kernel, 1, sound, to - from);
        let sum = sums.get(clip.id) ?? 0;
        kernel.products(ends).forEach(({ ab }, c) => {
          const weight = layout.weights[c]!;
          for (let i = 0; i < ab.length; i++) sum += weight * (weights[k + i] ?? 0) * ab[i]!;
        });
        sums.set(clip.id, sum);
        kernel.advance(to - from);
      }
      const there = new Set(parts.map(({ clip }) => clip.id));
      for (const [id, kernel] of kernels) {
        if (there.has(id)) continue;
        kernel.release();
        kernels.delete(id);
      }
      before = whole.map((channel) => channel.slice(Math.max(0, channel.length - tail)));
      k = next;
      if (k < range.to && !(await proceed())) return null;
    }
    return { clips: sums };
  } finally {
    for (const kernel of kernels.values()) kernel.release();
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

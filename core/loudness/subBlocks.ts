import type { Layout } from '@/core/audio/layout';

/** Sub-blocks per second: 20 ms each, fine enough for the sliding maxima of EBU Tech 3341 (case 13). */
export const SUB_BLOCKS_PER_SECOND = 50;

/** Sub-blocks in a 400 ms gating block or momentary window. */
export const MOMENTARY_SUB_BLOCKS = 20;
/** Sub-blocks in a 3 s short-term window. */
export const SHORT_TERM_SUB_BLOCKS = 150;
/** Sub-blocks between two gating blocks: 75 % overlap. */
export const HOP_SUB_BLOCKS = 5;

/** Sub-blocks in a peak block: 100 ms, the grid on which peaks are kept. */
export const PEAK_SUB_BLOCKS = 5;
export const PEAK_BLOCKS_PER_SECOND = SUB_BLOCKS_PER_SECOND / PEAK_SUB_BLOCKS;

/**
 * First frame of sub-block k. Where 20 ms are no whole number of frames (11,025 Hz) sub-blocks differ by one frame
 * and stay in step with time.
 */
export function subBlockStart(k: number, sampleRate: number): number {
  return Math.round((k * sampleRate) / SUB_BLOCKS_PER_SECOND);
}

/** Number of sub-blocks that hold `frames` frames, the last perhaps incomplete. */
export function subBlockCount(frames: number, sampleRate: number): number {
  let k = Math.ceil((frames * SUB_BLOCKS_PER_SECOND) / sampleRate);
  while (k > 0 && subBlockStart(k - 1, sampleRate) >= frames) k--;
  while (subBlockStart(k, sampleRate) < frames) k++;
  return k;
}

/** Number of sub-blocks that lie within `frames` frames whole. */
export function completeSubBlocks(frames: number, sampleRate: number): number {
  const count = subBlockCount(frames, sampleRate);
  return count > 0 && subBlockStart(count, sampleRate) > frames ? count - 1 : count;
}

/** The sub-block that holds a frame. */
export function subBlockAt(frame: number, sampleRate: number): number {
  return Math.max(0, subBlockCount(frame + 1, sampleRate) - 1);
}

/** Number of peak blocks that hold `frames` frames, the last perhaps incomplete. */
export function peakBlockCount(frames: number, sampleRate: number): number {
  return Math.ceil(subBlockCount(frames, sampleRate) / PEAK_SUB_BLOCKS);
}

/** What a measurement keeps: per channel everything the figures are worked out from. */
export interface SubBlockHistory {
  readonly sampleRate: number;
  /** Frames measured. */
  readonly frames: number;
  readonly layout: Layout;
  /** Sum of squares of the K-weighted samples of each sub-block (20 ms), per channel. */
  readonly energy: readonly Float64Array[];
  /** Largest sample magnitude of each peak block (100 ms), per channel, linear. */
  readonly samplePeak: readonly Float32Array[];
  /** True peak of each peak block, per channel, linear. */
  readonly truePeak: readonly Float32Array[];
}

/** The same with its energies weighted and summed over the channels, which is all that loudness goes by. */
export interface WeightedHistory extends Omit<SubBlockHistory, 'energy'> {
  /** Σ G_i·energy_i of each sub-block, the last perhaps incomplete. */
  readonly energy: Float64Array;
}

/** A weighted history of silence, to be filled range by range. */
export function emptyWeighted(layout: Layout, sampleRate: number, frames: number): WeightedHistory {
  const { samplePeak, truePeak, energy } = emptyHistory(layout, sampleRate, frames);
  return { sampleRate, frames, layout, energy: energy[0]!, samplePeak, truePeak };
}

/** A history of silence, to be filled range by range. */
export function emptyHistory(layout: Layout, sampleRate: number, frames: number): SubBlockHistory {
  const count = subBlockCount(frames, sampleRate);
  const peaks = peakBlockCount(frames, sampleRate);
  const channels = layout.labels.length;
  return {
    sampleRate,
    frames,
    layout,
    energy: Array.from({ length: channels }, () => new Float64Array(count)),
    samplePeak: Array.from({ length: channels }, () => new Float32Array(peaks)),
    truePeak: Array.from({ length: channels }, () => new Float32Array(peaks)),
  };
}

/** A copy with another length: what is common stays, what is new is silence. */
export function resizeWeighted(history: WeightedHistory, frames: number): WeightedHistory {
  const { layout, sampleRate } = history;
  const resized = emptyWeighted(layout, sampleRate, frames);
  const shorter = Math.min(history.frames, frames);
  const keepPeaks = peakBlockCount(shorter, sampleRate);
  resized.energy.set(history.energy.subarray(0, subBlockCount(shorter, sampleRate)));
  for (let channel = 0; channel < layout.labels.length; channel++) {
    resized.samplePeak[channel]!.set(history.samplePeak[channel]!.subarray(0, keepPeaks));
    resized.truePeak[channel]!.set(history.truePeak[channel]!.subarray(0, keepPeaks));
  }
  return resized;
}

/** Weights the energies of a history: Σ G_i·energy_i. Source: ITU-R BS.1770-5, Annex 1, eq. 2. */
export function weighted({ energy, layout, ...rest }: SubBlockHistory): WeightedHistory {
  const total = new Float64Array(energy[0]!.length);
  layout.weights.forEach((weight, channel) => {
    if (weight === 0) return;
    const one = energy[channel]!;
    for (let k = 0; k < total.length; k++) total[k]! += weight * one[k]!;
  });
  return { ...rest, layout, energy: total };
}

const isWeighted = (history: SubBlockHistory | WeightedHistory): history is WeightedHistory =>
  history.energy instanceof Float64Array;

/**
 * The weighted energy of every complete sub-block.
 * Source: ITU-R BS.1770-5, Annex 1, eq. 2.
 */
export function weightedEnergy(history: SubBlockHistory | WeightedHistory): Float64Array {
  const { energy } = isWeighted(history) ? history : weighted(history);
  // A copy: what is made of it may be handed over.
  return energy.slice(0, completeSubBlocks(history.frames, history.sampleRate));
}

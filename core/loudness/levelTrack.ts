import { amplitudeToDb, meanSquareToLufs } from './decibels';
import { largest, loudnessOf, type Loudness } from './figures';
import { integrated, type Integrated } from './gating';
import type { LevelTrack } from './sound';
import {
  HOP_SUB_BLOCKS,
  MOMENTARY_SUB_BLOCKS,
  PEAK_BLOCKS_PER_SECOND,
  SHORT_TERM_SUB_BLOCKS,
  SUB_BLOCKS_PER_SECOND,
} from './subBlocks';
import { everyHop, gatingBlocks, momentaryWindows, shortTermWindows } from './windows';

/** A slice of time, seconds from the start of the sound. */
export interface TimeRange {
  readonly from: number;
  readonly to: number;
}

/** The figures of a part of a sound. */
interface PartFigures extends Loudness {
  readonly truePeakDbtp: number | null;
}

/**
 * The figures of a part, from windows that lie within it whole. Its edges fall on the nearest 20 ms, those of the true
 * peak on the 100 ms that it touches.
 */
export function partFigures(
  { energy, truePeaks, sampleRate }: LevelTrack,
  { from, to }: TimeRange,
): PartFigures {
  const part = energy.subarray(
    Math.max(0, Math.round(from * SUB_BLOCKS_PER_SECOND)),
    Math.max(0, Math.round(to * SUB_BLOCKS_PER_SECOND)),
  );
  const peaks = truePeaks.subarray(
    Math.max(0, Math.floor(from * PEAK_BLOCKS_PER_SECOND)),
    Math.max(0, Math.ceil(to * PEAK_BLOCKS_PER_SECOND)),
  );
  return {
    ...loudnessOf(part, sampleRate),
    truePeakDbtp: amplitudeToDb(largest(peaks)),
  };
}

/** Ranges sorted, empty ones left out, those that overlap or touch made one. */
export function mergeRanges(ranges: readonly TimeRange[]): TimeRange[] {
  const merged: { from: number; to: number }[] = [];
  for (const { from, to } of ranges
    .filter((range) => range.to > range.from)
    .sort((a, b) => a.from - b.from)) {
    const last = merged.at(-1);
    if (last && from <= last.to) last.to = Math.max(last.to, to);
    else merged.push({ from, to });
  }
  return merged;
}

/** Loudness of what lies within given ranges, and how much that is. */
export interface WithinRanges extends Integrated {
  /** Time that the ranges cover within the sound, seconds. */
  readonly seconds: number;
}

/**
 * Integrated loudness over given time ranges, such as those in which somebody speaks: of the gating blocks that lie
 * within a range whole, with both gates of ITU-R BS.1770-5, Annex 1. A range under 400 ms adds nothing.
 */
export function integratedWithin(
  { energy, sampleRate }: Pick<LevelTrack, 'energy' | 'sampleRate'>,
  ranges: readonly TimeRange[],
): WithinRanges {
  const end = energy.length / SUB_BLOCKS_PER_SECOND;
  const { blocks, seconds } = blocksWithin(gatingBlocks(energy, sampleRate), ranges, end);
  return { ...integrated(blocks), seconds };
}

/**
 * The gating blocks that lie within given ranges whole.
 * @param end of the sound, seconds
 */
export function blocksWithin(
  blocks: Float64Array,
  ranges: readonly TimeRange[],
  end: number,
): { readonly blocks: Float64Array; readonly seconds: number } {
  const width = MOMENTARY_SUB_BLOCKS / SUB_BLOCKS_PER_SECOND;
  const hop = HOP_SUB_BLOCKS / SUB_BLOCKS_PER_SECOND;
  const chosen: number[] = [];
  let seconds = 0;
  for (const range of mergeRanges(ranges)) {
    const from = Math.max(0, range.from);
    const to = Math.min(end, range.to);
    seconds += Math.max(0, to - from);
    // A hair of room, so that ranges in whole tenths hold the blocks that just fit.
    const first = Math.ceil(from / hop - 1e-6);
    for (let j = first; j < blocks.length && j * hop + width <= to + 1e-6; j++) chosen.push(blocks[j]!);
  }
  return { blocks: Float64Array.from(chosen), seconds };
}

/** Loudness over time, one value every 100 ms; each stands for the window that begins there. */
export interface LoudnessSeries {
  readonly momentaryLufs: readonly (number | null)[];
  readonly shortTermLufs: readonly (number | null)[];
}

/** Source: EBU Tech 3341 (momentary 400 ms, short-term 3 s). */
export function loudnessSeries({
  energy,
  sampleRate,
}: Pick<LevelTrack, 'energy' | 'sampleRate'>): LoudnessSeries {
  const lufs = (windows: Float64Array): (number | null)[] => Array.from(everyHop(windows), meanSquareToLufs);
  return {
    momentaryLufs: lufs(momentaryWindows(energy, sampleRate)),
    shortTermLufs: lufs(shortTermWindows(energy, sampleRate)),
  };
}

/** How long a sound spends at each loudness. */
export interface LoudnessDistribution {
  /** Lower edge of the first bin, LUFS; bins are 1 LU wide. */
  readonly lowestLufs: number;
  /** Seconds in each bin. */
  readonly seconds: readonly number[];
  /** Seconds at or under the absolute gate, silence included. */
  readonly underGateSeconds: number;
}

const LOWEST = -70;
const HIGHEST = 10;

/** The distribution of the short-term loudness; of the momentary where the sound is shorter than 3 s. */
export function loudnessDistribution({
  energy,
  sampleRate,
}: Pick<LevelTrack, 'energy' | 'sampleRate'>): LoudnessDistribution {
  const windows =
    energy.length >= SHORT_TERM_SUB_BLOCKS
      ? shortTermWindows(energy, sampleRate)
      : momentaryWindows(energy, sampleRate);
  return distributionOf(everyHop(windows));
}

/** The distribution of windows. @param values weighted mean squares, one every 100 ms */
export function distributionOf(values: ArrayLike<number>): LoudnessDistribution {
  const seconds = new Array<number>(HIGHEST - LOWEST).fill(0);
  const step = 1 / (SUB_BLOCKS_PER_SECOND / HOP_SUB_BLOCKS);
  let underGateSeconds = 0;
  for (let k = 0; k < values.length; k++) {
    const lufs = meanSquareToLufs(values[k]!);
    if (lufs === null || lufs <= LOWEST) underGateSeconds += step;
    else seconds[Math.min(seconds.length - 1, Math.floor(lufs - LOWEST))]! += step;
  }
  return { lowestLufs: LOWEST, seconds, underGateSeconds };
}

import { amplitudeToDb, meanSquareToLufs } from './decibels';
import { integrated } from './gating';
import type { ReaderMeasurement } from './measureReader';
import { loudnessRangeOf } from './range';
import {
  ABRUPT,
  LISTED_SILENCE_SECONDS,
  type Peak,
  type Run,
  type SignalScan,
  type ZeroRun,
} from './signalScan';
import { SUB_BLOCKS_PER_SECOND, weightedEnergy } from './subBlocks';
import { everyHop, gatingBlocks, momentaryWindows, shortTermWindows } from './windows';

/** A slice of time, seconds. */
interface Slice {
  readonly startSeconds: number;
  readonly lengthSeconds: number;
}

/** A slice of one channel. */
interface ChannelSlice extends Slice {
  /** Label of the channel. */
  readonly channel: string;
}

/** A click, and in which channel. */
interface DetailedClick {
  readonly atSeconds: number;
  readonly channel: string;
  readonly dbfs: number;
  /** Over the sound around it, dB; `null`: out of silence. */
  readonly overDb: number | null;
}

/** Where the largest values are, seconds from the start; windows are named by where they begin. */
interface Positions {
  readonly maxMomentary: number | null;
  readonly maxShortTerm: number | null;
  readonly truePeak: number | null;
  readonly samplePeak: number | null;
}

/** What one wants to know of a sound beside its loudness and peaks. */
export interface SignalDetails {
  readonly positions: Positions;
  readonly loudnessRangeLowLufs: number | null;
  readonly loudnessRangeHighLufs: number | null;
  /** True peak over integrated loudness, LU. */
  readonly peakToLoudnessLu: number | null;
  readonly noiseFloorLufs: number | null;
  /** Mean of the samples of each channel, full scale = 1. */
  readonly dcOffset: readonly number[];
  /** Of the first two channels, −1 to 1; `null` for mono and for silence. */
  readonly correlation: number | null;
  readonly clippedSamples: number;
  /** Full-scale samples in a row; at most some thousands are listed. */
  readonly clippedRuns: readonly ChannelSlice[];
  readonly clippedRunCount: number;
  /** Nothing but zeros in all channels. */
  readonly digitalSilence: readonly Slice[];
  /** Zeros that begin or end abruptly within a channel's sound. */
  readonly dropOuts: readonly ChannelSlice[];
  readonly notFiniteSamples: number;
  /** Places where the wave turns far more sharply than around it; at most some thousands. */
  readonly clicks: readonly DetailedClick[];
}

/** Zeros for longer than this are a pause, not a drop-out. */
const MAX_DROP_OUT_SECONDS = 0.5;
/** The quietest twentieth of the blocks stands for the noise floor. */
const NOISE_FLOOR_RANK = 0.05;
/** What is not so far under the mean of all is no pause: quiet speech, or steady sound. As a power. */
const PAUSE = 10 ** (-15 / 10);

/** Place of the largest window that is not silent, seconds. */
function placeOfLargest(windows: Float64Array): number | null {
  let best = 0;
  let place: number | null = null;
  for (let k = 0; k < windows.length; k++) {
    if (windows[k]! > best) {
      best = windows[k]!;
      place = k / SUB_BLOCKS_PER_SECOND;
    }
  }
  return place;
}

function placeOfPeak(peaks: readonly Peak[], sampleRate: number): number | null {
  const highest = peaks.reduce((a, b) => (b.value > a.value ? b : a));
  return highest.value > 0 ? highest.frame / sampleRate : null;
}

/**
 * Noise floor: the loudness that the quietest twentieth of the 400 ms blocks does not exceed, blocks without any sound
 * left out. Speech and music pause often enough for that to be what lies under them.
 * Based on the blocks of ITU-R BS.1770-5, Annex 1, ungated, the percentile method of EBU Tech 3342, and the observation of
 * R. Martin (IEEE Trans. Speech and Audio Processing 9 (5), 2001) that the minima of short-time power follow the noise.
 * @param blocks weighted mean squares of the gating blocks
 */
export function noiseFloor(blocks: Float64Array): number | null {
  const sounding = blocks.filter((z) => meanSquareToLufs(z) !== null).sort();
  if (sounding.length === 0) return null;
  const floor = sounding[Math.floor((sounding.length - 1) * NOISE_FLOOR_RANK)]!;
  const mean = sounding.reduce((sum, z) => sum + z, 0) / sounding.length;
  return floor < mean * PAUSE ? meanSquareToLufs(floor) : null;
}

/** Where the runs of all channels overlap. */
function inAllChannels(runs: readonly Run[], channels: number): { start: number; length: number }[] {
  const edges = runs.flatMap(({ start, length }) => [
    { at: start, step: 1 },
    { at: start + length, step: -1 },
  ]);
  edges.sort((a, b) => a.at - b.at || a.step - b.step);
  const common: { start: number; length: number }[] = [];
  let open = 0;
  let since = 0;
  for (const { at, step } of edges) {
    if (open === channels && at > since) common.push({ start: since, length: at - since });
    open += step;
    if (open === channels) since = at;
  }
  return common;
}

function isDropOut(
  { start, length, before, after }: ZeroRun,
  scan: Pick<SignalScan, 'start' | 'end'>,
  sampleRate: number,
): boolean {
  const inside = start > scan.start && start + length < scan.end;
  return inside && length <= MAX_DROP_OUT_SECONDS * sampleRate && Math.max(before, after) > ABRUPT;
}

/** Works the details out of a measurement. */
export function detailsOf({ history, scan, notFinite }: ReaderMeasurement): SignalDetails {
  const { sampleRate, layout, frames } = history;
  const energy = weightedEnergy(history);
  const shortTerm = shortTermWindows(energy, sampleRate);
  const blocks = gatingBlocks(energy, sampleRate);
  const range = loudnessRangeOf(everyHop(shortTerm));
  const { integratedLufs } = integrated(blocks);
  const truePeakDbtp = amplitudeToDb(Math.max(...scan.truePeaks.map((peak) => peak.value)));
  const [, , aa, bb, ab] = scan.pair;
  const slice = ({ start, length }: { start: number; length: number }): Slice => ({
    startSeconds: start / sampleRate,
    lengthSeconds: length / sampleRate,
  });
  const inChannel = (run: Run): ChannelSlice => ({ ...slice(run), channel: layout.labels[run.channel]! });
  const byTime = (a: Slice, b: Slice): number => a.startSeconds - b.startSeconds;
  return {
    positions: {
      maxMomentary: placeOfLargest(momentaryWindows(energy, sampleRate)),
      maxShortTerm: placeOfLargest(shortTerm),
      truePeak: placeOfPeak(scan.truePeaks, sampleRate),
      samplePeak: placeOfPeak(scan.samplePeaks, sampleRate),
    },
    loudnessRangeLowLufs: range?.lowLufs ?? null,
    loudnessRangeHighLufs: range?.highLufs ?? null,
    peakToLoudnessLu: truePeakDbtp === null || integratedLufs === null ? null : truePeakDbtp - integratedLufs,
    noiseFloorLufs: noiseFloor(blocks),
    dcOffset: scan.sum.map((sum) => (frames > 0 ? sum / frames : 0)),
    correlation: aa > 0 && bb > 0 ? Math.max(-1, Math.min(1, ab / Math.sqrt(aa * bb))) : null,
    clippedSamples: scan.clippedSamples.reduce((sum, count) => sum + count, 0),
    clippedRuns: scan.clippedRuns.map(inChannel).sort(byTime),
    clippedRunCount: scan.clippedRunCount,
    digitalSilence: inAllChannels(scan.zeroRuns, layout.labels.length)
      .filter(({ length }) => length >= LISTED_SILENCE_SECONDS * sampleRate)
      .map(slice),
    dropOuts: scan.zeroRuns
      .filter((run) => isDropOut(run, scan, sampleRate))
      .map(inChannel)
      .sort(byTime),
    notFiniteSamples: notFinite,
    clicks: scan.clicks.map(({ channel, frame, dbfs, overDb }) => ({
      ...{ atSeconds: frame / sampleRate, channel: layout.labels[channel]!, dbfs },
      overDb: Number.isFinite(overDb) ? overDb : null,
    })),
  };
}

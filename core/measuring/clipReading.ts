import { dbToPower, meanSquareToLufs } from '@/core/loudness/decibels';
import { noiseFloor } from '@/core/loudness/details';
import { integratedAt, type GainedBlocks } from '@/core/loudness/gainSolve';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { LevelMeasure } from '@/core/programme/model';
import type { ClipMeasurement } from './measureClip';

export const UNIT: Readonly<Record<LevelMeasure, 'LUFS' | 'dBTP' | 'dBFS'>> = {
  integrated: 'LUFS',
  maxShortTerm: 'LUFS',
  maxMomentary: 'LUFS',
  truePeak: 'dBTP',
  samplePeak: 'dBFS',
};

export const isPeak = (measure: LevelMeasure): boolean => measure === 'truePeak' || measure === 'samplePeak';

/** Gating blocks are 400 ms long, one every 100 ms. */
export const HOPS_PER_SECOND = 10;
export const BLOCK_SECONDS = 0.4;

/** The figures that move along with a gain, dB for dB. */
const LINEAR = {
  maxShortTerm: 'maxShortTermLufs',
  maxMomentary: 'maxMomentaryLufs',
  truePeak: 'truePeakDbtp',
  samplePeak: 'samplePeakDbfs',
} as const;

/** The blocks that lie within the ranges whole. */
function blocksWithin(blocks: Float64Array, ranges: readonly TimeRange[]): Float64Array {
  return blocks.filter((_, k) => {
    const from = k / HOPS_PER_SECOND;
    return ranges.some((range) => from >= range.from - 1e-9 && from + BLOCK_SECONDS <= range.to + 1e-9);
  });
}

/** The gating blocks a clip is levelled by: all of it, or while somebody speaks. */
export function gatingBlocksOf(
  {
    measurement,
    speech,
  }: {
    readonly measurement: ClipMeasurement;
    /** Seconds of the clip. */
    readonly speech?: readonly TimeRange[] | null | undefined;
  },
  spokenOnly: boolean,
): Float64Array {
  return spokenOnly && speech ? blocksWithin(measurement.blocks, speech) : measurement.blocks;
}

export const gained = (blocks: Float64Array, gainDb: number): GainedBlocks => ({ blocks, gainDb });

/** Whether a clip is too short for a gating block: its loudness is then that of all of it, ungated. */
export const isUngated = ({ blocks }: ClipMeasurement): boolean => blocks.length === 0;

/** Loudness of all of a clip, ungated, LUFS. */
export function ungatedAt({ meanSquare }: ClipMeasurement, gainDb: number): number | null {
  return meanSquareToLufs(meanSquare * dbToPower(gainDb));
}

/** Loudness before any gain, LUFS: what was measured, ungated where it is too short to be gated. */
export const ownLoudness = (measurement: ClipMeasurement): number | null =>
  isUngated(measurement) ? ungatedAt(measurement, 0) : measurement.figures.integratedLufs;

/** Integrated loudness with a gain: gated, or ungated where the clip is shorter than a block. */
export function integratedWith(
  measurement: ClipMeasurement,
  blocks: Float64Array,
  gainDb: number,
): number | null {
  return isUngated(measurement) ? ungatedAt(measurement, gainDb) : integratedAt([gained(blocks, gainDb)], 0);
}

/** What a measure reads of a clip with a gain; `null` when it has no value. */
export function readAt(
  measurement: ClipMeasurement,
  measure: LevelMeasure,
  gainDb: number,
  blocks = measurement.blocks,
): number | null {
  if (measure === 'integrated') return integratedWith(measurement, blocks, gainDb);
  const value = measurement.figures[LINEAR[measure]];
  return value === null ? null : value + gainDb;
}

/** Where a clip's true peak is highest, seconds of the clip. */
function peakPlace({ truePeaks }: ClipMeasurement): number {
  let at = 0;
  for (let k = 1; k < truePeaks.length; k++) if (truePeaks[k]! > truePeaks[at]!) at = k;
  return at / HOPS_PER_SECOND;
}

/** All figures of a clip with a gain on it; `null` wherever there is nothing to measure. */
export interface ClipReading {
  readonly integratedLufs: number | null;
  /** It is too short for a gating block: its integrated loudness is that of all of it. */
  readonly ungated: boolean;
  readonly maxShortTermLufs: number | null;
  readonly maxMomentaryLufs: number | null;
  readonly loudnessRangeLu: number | null;
  readonly truePeakDbtp: number | null;
  readonly samplePeakDbfs: number | null;
  /** What of its quiet places is heard, LUFS. */
  readonly noiseFloorLufs: number | null;
  /** Where its true peak is highest, seconds of the clip. */
  readonly peakAt: number | null;
}

/** What no gain changes, once per measurement: lists ask for thousands. */
const still = new WeakMap<
  ClipMeasurement,
  { readonly floor: number | null; readonly peakAt: number | null }
>();

function stillOf(measurement: ClipMeasurement) {
  const known = still.get(measurement) ?? {
    floor: noiseFloor(measurement.blocks),
    peakAt: measurement.figures.truePeakDbtp === null ? null : peakPlace(measurement),
  };
  still.set(measurement, known);
  return known;
}

/** The last reading of each measurement: a thousand clips are drawn again and again. */
const last = new WeakMap<ClipMeasurement, { readonly gainDb: number; readonly reading: ClipReading }>();

/** Reads a clip with a gain: what every list, lane and proposal says of it. @param gainDb on what was measured */
export function readClip(measurement: ClipMeasurement, gainDb: number): ClipReading {
  const known = last.get(measurement);
  if (known?.gainDb === gainDb) return known.reading;
  const { floor, peakAt } = stillOf(measurement);
  const reading: ClipReading = {
    integratedLufs: readAt(measurement, 'integrated', gainDb),
    ungated: isUngated(measurement),
    maxShortTermLufs: readAt(measurement, 'maxShortTerm', gainDb),
    maxMomentaryLufs: readAt(measurement, 'maxMomentary', gainDb),
    loudnessRangeLu: measurement.figures.loudnessRangeLu,
    truePeakDbtp: readAt(measurement, 'truePeak', gainDb),
    samplePeakDbfs: readAt(measurement, 'samplePeak', gainDb),
    noiseFloorLufs: floor === null ? null : floor + gainDb,
    peakAt,
  };
  last.set(measurement, { gainDb, reading });
  return reading;
}

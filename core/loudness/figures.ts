import { amplitudeToDb, dbToPower, meanSquareToLufs } from './decibels';
import { integrated } from './gating';
import { loudnessRange } from './range';
import { weightedEnergy, type SubBlockHistory, type WeightedHistory } from './subBlocks';
import { everyHop, gatingBlocks, momentaryWindows, shortTermWindows } from './windows';

interface ChannelPeak {
  readonly label: string;
  readonly truePeakDbtp: number | null;
  readonly samplePeakDbfs: number | null;
}

/** The figures of one signal. `null` stands wherever there is nothing to measure. */
export interface LoudnessFigures {
  readonly integratedLufs: number | null;
  readonly relativeGateLufs: number | null;
  readonly maxMomentaryLufs: number | null;
  readonly maxShortTermLufs: number | null;
  readonly loudnessRangeLu: number | null;
  readonly truePeakDbtp: number | null;
  readonly samplePeakDbfs: number | null;
  readonly channelPeaks: readonly ChannelPeak[];
}

/** The figures that loudness over time gives. */
export type Loudness = Omit<LoudnessFigures, 'truePeakDbtp' | 'samplePeakDbfs' | 'channelPeaks'>;

/** Works them out of weighted energies, see `weightedEnergy`. */
export function loudnessOf(energy: Float64Array, sampleRate: number): Loudness {
  const shortTerm = shortTermWindows(energy, sampleRate);
  return {
    ...integrated(gatingBlocks(energy, sampleRate)),
    maxMomentaryLufs: meanSquareToLufs(largest(momentaryWindows(energy, sampleRate))),
    maxShortTermLufs: meanSquareToLufs(largest(shortTerm)),
    loudnessRangeLu: loudnessRange(everyHop(shortTerm)),
  };
}

/** The largest value, 0 when there is none. */
export function largest(values: Float32Array | Float64Array): number {
  let most = 0;
  for (let i = 0; i < values.length; i++) if (values[i]! > most) most = values[i]!;
  return most;
}

/**
 * Works the figures out of a history.
 * Sources: ITU-R BS.1770-5; EBU Tech 3341; EBU Tech 3342.
 */
export function figuresOf(history: SubBlockHistory | WeightedHistory): LoudnessFigures {
  const truePeaks = history.truePeak.map(largest);
  const samplePeaks = history.samplePeak.map(largest);
  return {
    ...loudnessOf(weightedEnergy(history), history.sampleRate),
    truePeakDbtp: amplitudeToDb(Math.max(0, ...truePeaks)),
    samplePeakDbfs: amplitudeToDb(Math.max(0, ...samplePeaks)),
    channelPeaks: history.layout.labels.map((label, channel) => ({
      label,
      truePeakDbtp: amplitudeToDb(truePeaks[channel]!),
      samplePeakDbfs: amplitudeToDb(samplePeaks[channel]!),
    })),
  };
}

/** A sound's figures, and the weighted energies they come from. */
export interface Measured {
  readonly figures: LoudnessFigures;
  /** See `weightedEnergy`. */
  readonly energy: Float64Array;
  readonly sampleRate: number;
}

/** What a sound will measure with a gain on all of it; gated anew, as the absolute gate does not move along. */
export function figuresAfterGain({ figures, energy, sampleRate }: Measured, gainDb: number): LoudnessFigures {
  const power = dbToPower(gainDb);
  return {
    ...loudnessOf(
      energy.map((e) => e * power),
      sampleRate,
    ),
    ...peaksAfterGain(figures, gainDb),
  };
}

/** The peaks with a gain on all of it. */
export function peaksAfterGain(
  figures: LoudnessFigures,
  gainDb: number,
): Pick<LoudnessFigures, 'truePeakDbtp' | 'samplePeakDbfs' | 'channelPeaks'> {
  const plus = (level: number | null): number | null => (level === null ? null : level + gainDb);
  return {
    truePeakDbtp: plus(figures.truePeakDbtp),
    samplePeakDbfs: plus(figures.samplePeakDbfs),
    channelPeaks: figures.channelPeaks.map(({ label, truePeakDbtp, samplePeakDbfs }) => ({
      label,
      truePeakDbtp: plus(truePeakDbtp),
      samplePeakDbfs: plus(samplePeakDbfs),
    })),
  };
}

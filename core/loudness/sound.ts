import type { Overview } from '@/core/audio/overview';
import { detailsOf, type SignalDetails } from './details';
import { figuresOf, type LoudnessFigures } from './figures';
import type { ReaderMeasurement } from './measureReader';
import { weightedEnergy } from './subBlocks';

/** Loudness and peaks over time, in little room; what the figures of any part of a sound are worked out from. */
export interface LevelTrack {
  /** Hz. */
  readonly sampleRate: number;
  /** Weighted energy of every complete sub-block (20 ms), see `weightedEnergy`. */
  readonly energy: Float64Array;
  /** True peak of every 100 ms over all channels, linear. */
  readonly truePeaks: Float32Array;
}

/** All that is kept of a sound's measurement. */
export interface SoundMeasurement extends LevelTrack {
  readonly figures: LoudnessFigures;
  readonly details: SignalDetails;
  readonly overview: Overview;
}

/** The largest of all channels, block by block. */
export function overChannels(channels: readonly Float32Array[]): Float32Array {
  const [first, ...others] = channels;
  const largest = Float32Array.from(first!);
  for (const channel of others) {
    for (let k = 0; k < largest.length; k++) if (channel[k]! > largest[k]!) largest[k] = channel[k]!;
  }
  return largest;
}

/** What is kept of a measurement. */
export function soundMeasurement(measured: ReaderMeasurement): SoundMeasurement {
  const { history, overview } = measured;
  return {
    sampleRate: history.sampleRate,
    energy: weightedEnergy(history),
    truePeaks: overChannels(history.truePeak),
    figures: figuresOf(history),
    details: detailsOf(measured),
    overview,
  };
}

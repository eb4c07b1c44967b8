import type { IntegrityFault } from '@/core/audio/integrity';
import type { Layout } from '@/core/audio/layout';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { SignalBlocks } from '@/core/loudness/signalBlocks';
import type { Id } from '@/core/programme/model';
import type { FormFigures } from '../verdict';

/** Something wrong in the samples of a sound, seconds. */
export interface Fault extends TimeRange {
  /** Label of the channel, or of all. */
  readonly channel: string;
  /** The clip it came with. */
  readonly clipId?: Id;
  readonly clipName?: string;
}

/** Samples at full scale in a row. */
export interface ClippedRun extends Fault {
  readonly samples: number;
}

/** A place where the wave turns far more sharply than around it. */
export interface ClickPlace {
  /** Seconds. */
  readonly at: number;
  readonly dbfs: number;
  /** Over the sound around it, dB; infinite out of silence. */
  readonly overDb: number;
  readonly clipId?: Id;
  readonly clipName?: string;
}

/** Speech and the rest by themselves. */
export interface ApartLevels {
  /** Weighted energy of every sub-block, see `weightedEnergy`. */
  readonly speech: Float64Array;
  readonly rest: Float64Array;
}

/** All that findings are worked out from. */
export interface CheckMaterial {
  readonly seconds: number;
  /** Hz. */
  readonly sampleRate: number;
  readonly layout: Layout;
  readonly figures: LoudnessFigures;
  /** Weighted energy of every complete sub-block, see `weightedEnergy`. */
  readonly energy: Float64Array;
  /** Of every 100 ms over all channels, linear. */
  readonly truePeaks: Float32Array;
  /** Of every 100 ms, by channel, linear. */
  readonly samplePeak: readonly Float32Array[];
  readonly signal: SignalBlocks;
  readonly clipped: readonly ClippedRun[];
  readonly dropOuts: readonly Fault[];
  readonly clicks: readonly ClickPlace[];
  /** When somebody speaks, in order; `null` when nothing says so. */
  readonly speech: readonly TimeRange[] | null;
  /** `null` where they are not apart: in a finished file. */
  readonly apart: ApartLevels | null;
  /** Where one clip or scene follows on another, seconds, in order; `null`: to be found from the sound. */
  readonly cuts: readonly number[] | null;
  readonly form: FormFigures;
  /** Why its figures cannot be certified. */
  readonly integrity: readonly IntegrityFault[];
}

import type { AudioReader } from '@/core/audio/reader';
import { dbToAmplitude, dbToPower } from '@/core/loudness/decibels';
import { exactTruePeak } from '@/core/loudness/exactTruePeak';
import { figuresOf, largest, peaksAfterGain, type LoudnessFigures } from '@/core/loudness/figures';
import { integrated } from '@/core/loudness/gating';
import { LoudnessMeter } from '@/core/loudness/meter';
import { loudnessRangeOf, type LoudnessRange } from '@/core/loudness/range';
import { overChannels, type SoundMeasurement } from '@/core/loudness/sound';
import { PEAK_BLOCKS_PER_SECOND, weightedEnergy, type SubBlockHistory } from '@/core/loudness/subBlocks';
import { everyHop, gatingBlocks, hopMeans, shortTermWindows } from '@/core/loudness/windows';
import { clipAlone } from '@/core/signal/clipPiece';
import type { ClipSound } from '@/core/signal/clipSound';

/** A clip by itself at 0 dB, as it stands in the programme: at the programme's rate, laid into its channels. */
export interface ClipMeasurement {
  readonly figures: LoudnessFigures;
  /** Weighted mean squares of its gating blocks, 400 ms every 100 ms. */
  readonly blocks: Float64Array;
  /** Weighted mean squares of each 100 ms, one after the other. */
  readonly hops: Float64Array;
  /** True peak of every 100 ms over all channels, linear. */
  readonly truePeaks: Float32Array;
  /** Weighted mean square of all of it, ungated. */
  readonly meanSquare: number;
  /** Between which levels its loudness range lies, LUFS; `null` when it has none. */
  readonly range: LoudnessRange | null;
  /** Where its loudest three seconds begin, seconds; `null` when it is shorter. */
  readonly maxShortTermAt: number | null;
  readonly lengthSeconds: number;
  /** The true peak at 16 times the rate, dBTP; `null` for silence or where it could not be found, left out where nobody asked for it. */
  readonly exactTruePeakDbtp?: number | null;
}

/**
 * The measurement as it is before the clip's own gain when something else lies on it: a trim, its track's gain. Gated
 * anew, as the absolute gate does not move along.
 */
export function withBaseGain(measurement: ClipMeasurement, db: number): ClipMeasurement {
  if (db === 0) return measurement;
  const known = based.get(measurement);
  if (known?.db === db) return known.measurement;
  const power = dbToPower(db);
  const amplitude = dbToAmplitude(db);
  const plus = (level: number | null): number | null => (level === null ? null : level + db);
  const { figures, blocks, hops, truePeaks, meanSquare, range, exactTruePeakDbtp } = measurement;
  const moved: ClipMeasurement = {
    ...measurement,
    ...(exactTruePeakDbtp !== undefined && { exactTruePeakDbtp: plus(exactTruePeakDbtp) }),
    blocks: blocks.map((z) => z * power),
    hops: hops.map((z) => z * power),
    truePeaks: truePeaks.map((peak) => peak * amplitude),
    meanSquare: meanSquare * power,
    range: range && { lowLufs: range.lowLufs + db, highLufs: range.highLufs + db },
    figures: {
      ...integrated(blocks, power),
      maxMomentaryLufs: plus(figures.maxMomentaryLufs),
      maxShortTermLufs: plus(figures.maxShortTermLufs),
      loudnessRangeLu: figures.loudnessRangeLu,
      ...peaksAfterGain(figures, db),
    },
  };
  based.set(measurement, { db, measurement: moved });
  return moved;
}

/** The last base gain asked for of each measurement: the screen asks for the same ones again and again. */
const based = new WeakMap<ClipMeasurement, { readonly db: number; readonly measurement: ClipMeasurement }>();

/** Weighted mean square of a whole sound. @param energy of its complete sub-blocks, see `weightedEnergy` */
function meanSquareOf(energy: Float64Array, frames: number): number {
  return frames > 0 ? energy.reduce((sum, z) => sum + z, 0) / frames : 0;
}

/** What a history says of a clip. */
export function clipMeasurementOf(history: SubBlockHistory): ClipMeasurement {
  const { frames, sampleRate } = history;
  const energy = weightedEnergy(history);
  const shortTerm = everyHop(shortTermWindows(energy, sampleRate));
  return {
    figures: figuresOf(history),
    blocks: gatingBlocks(energy, sampleRate),
    hops: hopMeans(energy, sampleRate),
    truePeaks: overChannels(history.truePeak),
    meanSquare: meanSquareOf(energy, frames),
    range: loudnessRangeOf(shortTerm),
    maxShortTermAt:
      shortTerm.length > 0 ? shortTerm.indexOf(largest(shortTerm)) / PEAK_BLOCKS_PER_SECOND : null,
    lengthSeconds: frames / sampleRate,
  };
}

const ofSounds = new WeakMap<SoundMeasurement, ClipMeasurement>();

/**
 * A whole sound's measurement, at its own rate and in its own channels, as that of a clip of all of it.
 * @param frames of the whole sound, at its own rate
 */
export function wholeSoundMeasurement(sound: SoundMeasurement, frames: number): ClipMeasurement {
  const known = ofSounds.get(sound);
  if (known) return known;
  const { figures, truePeaks, energy, details, sampleRate } = sound;
  const { loudnessRangeLowLufs: lowLufs, loudnessRangeHighLufs: highLufs, positions } = details;
  const measurement: ClipMeasurement = {
    figures,
    blocks: gatingBlocks(energy, sampleRate),
    hops: hopMeans(energy, sampleRate),
    truePeaks,
    meanSquare: meanSquareOf(energy, frames),
    range: lowLufs === null || highLufs === null ? null : { lowLufs, highLufs },
    maxShortTermAt: positions.maxShortTerm,
    lengthSeconds: frames / sampleRate,
  };
  ofSounds.set(sound, measurement);
  return measurement;
}

/**
 * Measures a clip by itself as it stands in its programme, before its gain.
 * @param reader its source
 * @param proceed asked between pieces of a second; `false` stops
 * @returns `null` when stopped
 */
export async function measureClip(
  reader: AudioReader,
  sound: ClipSound,
  proceed: () => boolean | Promise<boolean>,
): Promise<ClipMeasurement | null> {
  const {
    sampleRate,
    clip: { length },
  } = sound;
  const alone = clipAlone(reader, sound);
  const meter = new LoudnessMeter(alone.format.layout, sampleRate);
  try {
    for (let done = 0; done < length; done += sampleRate) {
      meter.push(await alone.read(done, Math.min(sampleRate, length - done)));
      if (!(await proceed())) return null;
    }
    return clipMeasurementOf(meter.finish());
  } finally {
    meter.release();
  }
}

/**
 * The exact true peak of a clip by itself, before its gain.
 * @param truePeaks as its measurement has them, see {@link ClipMeasurement}
 * @returns dBTP in `exact`, `null` for silence; `null` instead of all when stopped
 */
export async function exactClipPeak(
  reader: AudioReader,
  sound: ClipSound,
  truePeaks: Float32Array,
  proceed: () => boolean | Promise<boolean>,
): Promise<{ readonly exact: number | null } | null> {
  const peak = await exactTruePeak(clipAlone(reader, sound), truePeaks, proceed);
  return peak && { exact: peak.truePeakDbtp };
}

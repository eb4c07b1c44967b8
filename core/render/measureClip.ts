import { programmeLayout } from '@/core/audio/layout';
import { newMixer } from '@/core/kernels/mixer';
import type { AudioReader } from '@/core/audio/reader';
import { dbToAmplitude, dbToPower } from '@/core/loudness/decibels';
import { figuresOf, largest, peaksAfterGain, type LoudnessFigures } from '@/core/loudness/figures';
import { integrated } from '@/core/loudness/gating';
import { LoudnessMeter } from '@/core/loudness/meter';
import { loudnessRangeOf, type LoudnessRange } from '@/core/loudness/range';
import { overChannels } from '@/core/loudness/sound';
import { PEAK_BLOCKS_PER_SECOND, weightedEnergy, type SubBlockHistory } from '@/core/loudness/subBlocks';
import { everyHop, gatingBlocks, shortTermWindows } from '@/core/loudness/windows';
import type { ClipStretch } from './clipKey';
import { clipMatrix } from './clipMatrix';
import { applyShape, shapedWithin } from './curves';
import { readAtRate } from './sourceAt';

/** A clip by itself at 0 dB, as it stands in the programme: at the programme's rate, laid into its channels. */
export interface ClipMeasurement {
  readonly figures: LoudnessFigures;
  /** Weighted mean squares of its gating blocks, 400 ms every 100 ms. */
  readonly blocks: Float64Array;
  /** True peak of every 100 ms over all channels, linear. */
  readonly truePeaks: Float32Array;
  /** Weighted mean square of all of it, ungated. */
  readonly meanSquare: number;
  /** Between which levels its loudness range lies, LUFS; `null` when it has none. */
  readonly range: LoudnessRange | null;
  /** Where its loudest three seconds begin, seconds; `null` when it is shorter. */
  readonly maxShortTermAt: number | null;
  readonly lengthSeconds: number;
  /** The true peak at 16 times the rate, dBTP; `null` for silence, left out where nobody asked for it. */
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
  const { figures, blocks, truePeaks, meanSquare, range, exactTruePeakDbtp } = measurement;
  const moved: ClipMeasurement = {
    ...measurement,
    ...(exactTruePeakDbtp !== undefined && { exactTruePeakDbtp: plus(exactTruePeakDbtp) }),
    blocks: blocks.map((z) => z * power),
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
export function meanSquareOf(energy: Float64Array, frames: number): number {
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
    truePeaks: overChannels(history.truePeak),
    meanSquare: meanSquareOf(energy, frames),
    range: loudnessRangeOf(shortTerm),
    maxShortTermAt:
      shortTerm.length > 0 ? shortTerm.indexOf(largest(shortTerm)) / PEAK_BLOCKS_PER_SECOND : null,
    lengthSeconds: frames / sampleRate,
  };
}

/**
 * Measures a stretch of a sound as a clip of it would stand in a programme.
 * @param proceed asked between pieces of a second; `false` stops
 * @returns `null` when stopped
 */
export async function measureClip(
  reader: AudioReader,
  stretch: ClipStretch,
  proceed: () => boolean | Promise<boolean>,
): Promise<ClipMeasurement | null> {
  const { sampleRate, sourceStart, length } = stretch;
  const layout = programmeLayout(stretch.layoutId);
  const meter = new LoudnessMeter(layout, sampleRate);
  const matrix = clipMatrix(reader.format.layout, layout, stretch, stretch.monoLaw);
  try {
    for (let done = 0; done < length; done += sampleRate) {
      const count = Math.min(sampleRate, length - done);
      const samples = await readAtRate(reader, sampleRate, sourceStart + done, count);
      if (shapedWithin(stretch, done, done + count)) applyShape(samples, stretch, done);
      const mixer = newMixer(layout.labels.length, count);
      mixer.add(samples, 0, matrix, 1);
      meter.push(mixer.finish());
      if (!(await proceed())) return null;
    }
    return clipMeasurementOf(meter.finish());
  } finally {
    meter.release();
  }
}

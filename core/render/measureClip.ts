import { programmeLayout } from '@/core/audio/layout';
import { newMixer } from '@/core/kernels/mixer';
import type { AudioReader } from '@/core/audio/reader';
import { dbToAmplitude, dbToPower } from '@/core/loudness/decibels';
import { figuresOf, peaksAfterGain, type LoudnessFigures } from '@/core/loudness/figures';
import { integrated } from '@/core/loudness/gating';
import { LoudnessMeter } from '@/core/loudness/meter';
import { overChannels } from '@/core/loudness/sound';
import { weightedEnergy, type SubBlockHistory } from '@/core/loudness/subBlocks';
import { gatingBlocks } from '@/core/loudness/windows';
import type { ClipStretch } from './clipKey';
import { clipMatrix } from './clipMatrix';
import { applyFades, fadesWithin } from './fades';
import { readAtRate } from './sourceAt';

/** A clip by itself at 0 dB, as it stands in the programme: at the programme's rate, laid into its channels. */
export interface ClipMeasurement {
  readonly figures: LoudnessFigures;
  /** Weighted mean squares of its gating blocks, 400 ms every 100 ms. */
  readonly blocks: Float64Array;
  /** True peak of every 100 ms over all channels, linear. */
  readonly truePeaks: Float32Array;
  readonly lengthSeconds: number;
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
  const { figures, blocks, truePeaks } = measurement;
  const moved: ClipMeasurement = {
    ...measurement,
    blocks: blocks.map((z) => z * power),
    truePeaks: truePeaks.map((peak) => peak * amplitude),
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

/** What a history says of a clip. */
export function clipMeasurementOf(history: SubBlockHistory): ClipMeasurement {
  return {
    figures: figuresOf(history),
    blocks: gatingBlocks(weightedEnergy(history), history.sampleRate),
    truePeaks: overChannels(history.truePeak),
    lengthSeconds: history.frames / history.sampleRate,
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
      if (fadesWithin(stretch, done, done + count)) applyFades(samples, stretch, done);
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

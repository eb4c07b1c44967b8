import type { SoundChoice } from '@/core/audio/soundChoice';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { figuresAfterGain, type LoudnessFigures } from '@/core/loudness/figures';
import { soundMeasurement } from '@/core/loudness/sound';
import type { Limiter } from '@/core/programme/model';
import { limitedReader } from '@/core/signal/limiter/limitedReader';
import { withFileSound } from './limiting';
import { readAgain, type Measured } from './measureFile';
import type { Output } from './output';
import type { TaskPool } from './pool';
import { writeSound, type Written } from './writeSound';

/** What a file is written as: as it comes (float stays float, all else becomes 24-bit), or one of the two. */
export type FileFormat = 'asItComes' | '24' | 'float';

/** A limiter behind the gain, and what comes of it. */
export interface Limiting {
  readonly limiter: Limiter;
  readonly after: LoudnessFigures;
}

/** Writes a file again with one gain on all of it, perhaps through a limiter, and measures what was written. */
export async function writeLevelled(
  file: string,
  output: Output,
  gainDb: number,
  limiting: Limiting | null,
  fileFormat: FileFormat,
  choice: SoundChoice,
  sound: Measured,
  pool: TaskPool,
  onProgress: (done: number) => void,
): Promise<Written> {
  const gain = dbToAmplitude(gainDb);
  const { format } = sound;
  const { sampleRate, layout, frames, bitDepth, codec } = format;
  const isFloat = codec.startsWith('float') || bitDepth > 24;
  const float = fileFormat === 'asItComes' ? isFloat : fileFormat === 'float';
  // What the file says of itself is said again; of its loudness, what it measures now.
  const metadata = choice.range ? null : format.metadata && { ...format.metadata, loudness: null };
  const spec = { sampleRate, layout, frames, format: float ? 'f32' : 's24', metadata } as const;
  if (limiting)
    return withFileSound(
      file,
      choice,
      sound,
      limiting.limiter,
    )((reader) => {
      const limited = limitedReader(reader, { ...limiting.limiter, inputDb: gainDb });
      return writeSound(
        output,
        { ...spec, pieceSeconds: 8 },
        (start, count) => limited.read(start, count),
        () => limiting.after,
        pool,
        onProgress,
      );
    });
  return readAgain(file, choice, format, 0, async (reader) => {
    const make = async (start: number, count: number): Promise<Float32Array[]> =>
      (await reader.read(start, count)).map((channel) => channel.map((x) => x * gain));
    return writeSound(
      output,
      spec,
      make,
      () => figuresAfterGain(soundMeasurement(sound.measured), gainDb),
      pool,
      onProgress,
    );
  });
}

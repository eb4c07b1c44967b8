import type { SoundChoice } from '@/core/audio/soundChoice';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { figuresAfterGain } from '@/core/loudness/figures';
import { soundMeasurement } from '@/core/loudness/sound';
import { readAgain, type Measured } from './measureFile';
import type { Output } from './output';
import type { TaskPool } from './pool';
import { writeSound, type Written } from './writeSound';

/** What a file is written as: as it comes (float stays float, all else becomes 24-bit), or one of the two. */
export type FileFormat = 'asItComes' | '24' | 'float';

/** Writes a file again with one gain on all of it, and measures what was written. */
export async function writeLevelled(
  file: string,
  output: Output,
  gainDb: number,
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
  return readAgain(file, choice, format, 0, async (reader) => {
    const make = async (start: number, count: number): Promise<Float32Array[]> =>
      (await reader.read(start, count)).map((channel) => channel.map((x) => x * gain));
    return writeSound(
      output,
      { sampleRate, layout, frames, format: float ? 'f32' : 's24' },
      make,
      () => figuresAfterGain(soundMeasurement(sound.measured), gainDb),
      pool,
      onProgress,
    );
  });
}

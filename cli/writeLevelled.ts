import type { SoundChoice } from '@/core/audio/soundChoice';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { renderFile } from '@/core/render/renderFile';
import { writeWhole } from './files';
import { readAgain, type Measured } from './measureFile';

/** Writes a file again with one gain on all of it; float stays float, all else becomes 24-bit. */
export async function writeLevelled(
  file: string,
  out: string,
  gainDb: number,
  choice: SoundChoice,
  { format }: Measured,
  onProgress: (done: number) => void,
): Promise<void> {
  const gain = dbToAmplitude(gainDb);
  const { sampleRate, layout, frames, bitDepth, codec } = format;
  const float = codec.startsWith('float') || bitDepth > 24;
  await readAgain(file, choice, format, 0, async (reader) => {
    await writeWhole(out, file, async (sink) => {
      const make = async (start: number, count: number): Promise<Float32Array[]> =>
        (await reader.read(start, count)).map((channel) => channel.map((x) => x * gain));
      await renderFile({ sampleRate, layout, frames, format: float ? 'f32' : 's24' }, make, sink, (done) => {
        onProgress(done);
        return true;
      });
    });
  });
}

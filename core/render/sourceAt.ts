import type { AudioReader } from '@/core/audio/reader';
import { rateConverter } from '@/core/audio/resample';
import type { Source } from '@/core/programme/model';

/** Gives the reader of a source's sound; kept open by whoever provides it. */
export type OpenSource = (source: Source) => Promise<AudioReader>;

/** Frames [start, start + count) of a sound at another rate; `start` counts frames of that rate. */
export async function readAtRate(
  reader: AudioReader,
  sampleRate: number,
  start: number,
  count: number,
): Promise<Float32Array[]> {
  if (reader.format.sampleRate === sampleRate) return reader.read(start, count);
  const converter = rateConverter(reader.format.sampleRate, sampleRate);
  const input = await reader.read(converter.inputStart(start), converter.inputCount(start, count));
  return input.map((channel) => converter.convert(channel, start, count));
}

import type { AudioReader } from '@/core/audio/reader';
import { rateConverter } from '@/core/audio/resample';
import type { Source } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
import { pieceOf, readPiece, type Piece, type Room } from './piece';
import { ALWAYS, plainStation } from './station';

/** Gives the reader of a source's sound; held open by whoever provides it. */
export type OpenSource = (source: Source) => Promise<AudioReader>;

/** Frames [start, start + count) of a sound at another rate; `start` counts frames of that rate. */
async function readAtRate(
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

/**
 * Frames [from, to) of a clip as its source has them, at the programme's rate; `from` and `to` within the clip.
 * @param room see {@link readPiece}
 */
export async function readSource(
  reader: AudioReader,
  { clip, sampleRate }: ClipSound,
  from: number,
  to: number,
  room: Room,
): Promise<Piece> {
  const first = clip.sourceStart + from;
  return reader.format.sampleRate === sampleRate
    ? readPiece(reader, first, to - from, room)
    : pieceOf(await readAtRate(reader, sampleRate, first, to - from));
}

/** What of a source a clip is. It begins every path: its sound is read by {@link readSource}, and nothing is left to apply. */
export const source = plainStation<ClipSound>({
  name: 'source',
  key: ({ audioKey, sourceLayout, clip, sampleRate }) => [
    audioKey,
    sourceLayout.id,
    clip.sourceStart,
    clip.length,
    sampleRate,
  ],
  difference: (a, b) =>
    a.audioKey === b.audioKey &&
    a.sourceLayout.id === b.sourceLayout.id &&
    a.clip.sourceStart === b.clip.sourceStart &&
    a.clip.length === b.clip.length &&
    a.sampleRate === b.sampleRate
      ? null
      : ALWAYS,
  apply: (piece) => piece,
});

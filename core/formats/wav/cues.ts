import type { Marker } from '@/core/audio/metadata';
import { HeaderBytes, utf8Of } from '../headerBytes';

/** The chunks that hold markers: cue points, and a list of their labels. Source: RIFF/WAVE, cue and associated data list chunks. */
export function cueChunks(
  markers: readonly Marker[],
): readonly (readonly [id: string, content: Uint8Array<ArrayBuffer>])[] {
  // A cue point is a frame in 32 bits.
  const told = markers.filter(({ frame }) => frame >= 0 && frame < 2 ** 32);
  if (told.length === 0) return [];
  const cues = new HeaderBytes().u32(told.length);
  const labels = new HeaderBytes().text('adtl');
  told.forEach(({ frame, label }, i) => {
    cues
      .u32(i + 1)
      .u32(frame)
      .text('data')
      .u32(0)
      .u32(0)
      .u32(frame);
    const text = utf8Of(label);
    const size = 4 + text.length + 1;
    labels
      .text('labl')
      .u32(size)
      .u32(i + 1)
      .raw(text)
      .u8(0)
      .raw(new Uint8Array(size % 2));
  });
  return [
    ['cue ', cues.done()],
    ['LIST', labels.done()],
  ];
}

import { programmeLayout } from '@/core/audio/layout';
import type { AudioReader } from '@/core/audio/reader';
import { newMixer } from '@/core/kernels/mixer';
import type { ClipSound } from './clipSound';
import { CLIP_PATH, CLIP_SHAPE } from './path';
import { addPiece, Room, samplesOf, type Piece } from './piece';
import { readSource } from './source';
import { applyPath, reachOf, type ReductionTold } from './station';

/** The same piece with silence before and after it. */
function surrounded(piece: Piece, before: number, after: number): Piece {
  if (before === 0 && after === 0) return piece;
  const frames = before + piece.frames + after;
  const sound = samplesOf(piece).map((samples) => {
    const wider = new Float32Array(frames);
    wider.set(samples, before);
    return wider;
  });
  return { ...piece, frames, sound };
}

/**
 * Frames [from, to) of a clip, counted from its start, after the stations of a path; outside the clip there is silence.
 * @param room see `readPiece`
 * @param path begins with the clip's source; all that lies on the clip when left out
 * @param told what its limiter does
 */
export async function clipPiece(
  reader: AudioReader,
  sound: ClipSound,
  from: number,
  to: number,
  room = new Room(),
  path = CLIP_PATH,
  told?: ReductionTold,
): Promise<Piece> {
  const { before, after } = reachOf(path, sound);
  const [first, last] = [from - before, to + after];
  const begin = Math.min(Math.max(0, first), sound.clip.length);
  const end = Math.max(begin, Math.min(last, sound.clip.length));
  const piece = await readSource(reader, sound, begin, end, room);
  return applyPath(path, surrounded(piece, begin - first, last - end), sound, first, told);
}

/** A clip by itself as sound, laid into the programme's channels, before its gain. Outside it there is silence. */
export function clipAlone(reader: AudioReader, sound: ClipSound): AudioReader {
  const { sampleRate, clip, layoutId } = sound;
  const layout = programmeLayout(layoutId);
  return {
    format: { ...reader.format, sampleRate, layout, frames: clip.length },
    async read(start, count) {
      const [from, to] = [Math.max(0, start), Math.min(clip.length, start + count)];
      const mixer = newMixer(layout.labels.length, count);
      if (from < to)
        addPiece(mixer, await clipPiece(reader, sound, from, to, new Room(), CLIP_SHAPE), from - start);
      return mixer.finish();
    },
  };
}

import { programmeLayout } from '@/core/audio/layout';
import type { AudioReader } from '@/core/audio/reader';
import { newMixer } from '@/core/kernels/mixer';
import type { ClipSound } from './clipSound';
import { CLIP_PATH, CLIP_SHAPE } from './path';
import { addPiece, pieceWithin, Room, samplesOf, type Piece } from './piece';
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

/** A piece, and the frame of the clip at which it begins. */
interface Part {
  readonly at: number;
  readonly piece: Piece;
}

/** Less than so many frames are not worth a part of their own. */
const LEAST_PART = 8_192;

/** Where [from, to) is best cut, so that what stations change lies apart from what they do not, which stays as it is in the file. */
function cutsOf(sound: ClipSound, from: number, to: number): number[] {
  const spans = CLIP_PATH.flatMap((station) => station.changes?.(sound) ?? []).sort(
    (a, b) => a.from - b.from,
  );
  const cuts = [from];
  let at = from;
  for (const span of spans) {
    if (span.to <= at || span.from >= to) continue;
    if (span.from - at >= LEAST_PART && at > cuts.at(-1)!) cuts.push(at);
    if (span.from - at >= LEAST_PART) cuts.push(span.from);
    at = Math.max(at, Math.min(to, span.to));
  }
  if (to - at >= LEAST_PART && at > cuts.at(-1)!) cuts.push(at);
  return [...cuts, to];
}

/**
 * Frames [from, to) of a clip after all that lies on it, in parts one after the other: see {@link clipPiece}. Together they
 * are the same to the bit.
 */
export async function clipParts(
  reader: AudioReader,
  sound: ClipSound,
  from: number,
  to: number,
  room: Room,
  told?: ReductionTold,
): Promise<Part[]> {
  const { before, after } = reachOf(CLIP_PATH, sound);
  if (before > 0 || after > 0)
    return [{ at: from, piece: await clipPiece(reader, sound, from, to, room, CLIP_PATH, told) }];
  const whole = await readSource(reader, sound, from, to, room);
  const cuts = cutsOf(sound, from, to);
  return cuts.slice(1).map((end, i) => {
    const at = cuts[i]!;
    return { at, piece: applyPath(CLIP_PATH, pieceWithin(whole, at - from, end - at), sound, at, told) };
  });
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

import type { MixMatrix } from '@/core/audio/mixMatrix';
import { bytesPerSample, type SampleEncoding } from '@/core/audio/pcm';
import type { AudioReader } from '@/core/audio/reader';
import { decodeSamples, newMixer, type Mixer } from '@/core/kernels/mixer';
import { dbToAmplitude } from '@/core/loudness/decibels';

/** Interleaved samples as they lie in a file, within a piece. */
interface Raw {
  readonly bytes: Uint8Array;
  readonly encoding: SampleEncoding;
  readonly channels: number;
  /** Frames that the bytes hold, and the frame of the piece at which they begin; the rest is silence. */
  readonly frames: number;
  readonly lead: number;
}

/**
 * A piece of sound on its way. Gains and the laying of channels that are the same throughout are noted and carried out once,
 * when the piece is summed.
 */
export interface Piece {
  readonly frames: number;
  readonly sound: readonly Float32Array[] | Raw;
  /** How its channels are laid into those of the mix; `null`: each as it is. */
  readonly matrix: MixMatrix | null;
  readonly gainDb: number;
}

/** @param samples one array per channel, full scale = 1 */
export const pieceOf = (samples: readonly Float32Array[]): Piece => ({
  frames: samples[0]?.length ?? 0,
  sound: samples,
  matrix: null,
  gainDb: 0,
});

/** Frames [from, from + frames) of a piece. */
export function pieceWithin(piece: Piece, from: number, frames: number): Piece {
  const { sound } = piece;
  if (!isRaw(sound))
    return { ...piece, frames, sound: sound.map((samples) => samples.subarray(from, from + frames)) };
  const first = Math.min(sound.frames, Math.max(0, from - sound.lead));
  const last = Math.max(first, Math.min(sound.frames, from + frames - sound.lead));
  const size = sound.channels * bytesPerSample(sound.encoding);
  const bytes = sound.bytes.subarray(first * size, last * size);
  return {
    ...piece,
    frames,
    sound: { ...sound, bytes, frames: last - first, lead: Math.max(0, sound.lead - from) },
  };
}

const identity = (channels: number): MixMatrix =>
  Array.from({ length: channels }, (_, to) =>
    Array.from({ length: channels }, (__, from) => (from === to ? 1 : 0)),
  );

const isRaw = (sound: Piece['sound']): sound is Raw => !Array.isArray(sound);

/** The samples of a piece, before what is noted; to be written over at will. */
export function samplesOf({ frames, sound }: Piece): readonly Float32Array[] {
  if (!isRaw(sound)) return sound;
  const { bytes, encoding, channels, lead } = sound;
  return decodeSamples(bytes, encoding, channels, sound.frames, lead, frames);
}

/** The samples of a piece with all that is noted carried out; to be written over at will. */
export function finishedSamples(piece: Piece): readonly Float32Array[] {
  if (piece.matrix === null && piece.gainDb === 0) return samplesOf(piece);
  const channels = piece.matrix?.length ?? samplesOf(piece).length;
  const mixer = newMixer(channels, piece.frames);
  addPiece(mixer, piece, 0);
  return mixer.finish();
}

/** Adds a piece to a sum, from frame `at` of it on. */
export function addPiece(mixer: Mixer, { sound, matrix, gainDb }: Piece, at: number): void {
  const gain = dbToAmplitude(gainDb);
  if (!isRaw(sound)) return mixer.add(sound, at, matrix ?? identity(sound.length), gain);
  if (sound.frames === 0) return;
  const { bytes, encoding, channels, frames, lead } = sound;
  mixer.addBytes(bytes, encoding, frames, at + lead, matrix ?? identity(channels), gain);
}

/** Room for bytes that are read and summed one piece after the other, so that reading much leaves nothing to be cleared away. */
export class Room {
  private bytes = new Uint8Array();

  /** At least so many bytes; what was read into them before is lost. */
  of(length: number): Uint8Array {
    if (this.bytes.length < length) this.bytes = new Uint8Array(length);
    return this.bytes;
  }
}

/**
 * Frames [start, start + count) of a sound as they lie in its file, where it has plain samples; else as samples.
 * @param room the piece is good until the next one is read into it
 */
export async function readPiece(
  reader: AudioReader,
  start: number,
  count: number,
  room: Room,
): Promise<Piece> {
  const { pcm, format } = reader;
  if (!pcm) return pieceOf(await reader.read(start, count));
  const from = Math.max(0, Math.min(start, format.frames));
  const to = Math.max(from, Math.min(format.frames, start + count));
  const channels = format.layout.labels.length;
  const length = (to - from) * channels * bytesPerSample(pcm.encoding);
  const bytes = to > from ? await pcm.readBytes(from, to - from, room.of(length)) : new Uint8Array();
  const raw = { bytes, encoding: pcm.encoding, channels };
  return {
    frames: count,
    sound: { ...raw, frames: to - from, lead: Math.max(0, from - start) },
    matrix: null,
    gainDb: 0,
  };
}

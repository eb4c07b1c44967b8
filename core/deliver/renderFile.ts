import type { Layout } from '@/core/audio/layout';
import type { WriteFormat } from '@/core/audio/pcm';
import type { AudioMetadata } from '@/core/audio/metadata';
import type { PlacedSink, SoundWriter, WrittenSound } from '@/core/audio/soundWriter';
import { pcmWriter } from '@/core/formats/pcmWriter';

export interface RenderSpec {
  readonly sampleRate: number;
  readonly layout: Layout;
  readonly format: WriteFormat;
  readonly frames: number;
  /** How much is made at a time; two seconds where left out. */
  readonly pieceSeconds?: number;
  readonly metadata?: AudioMetadata | null;
}

/** Frames [start, start + count) of a sound that is made piece by piece. */
export type MakeSound = (start: number, count: number) => Promise<readonly Float32Array[]>;

/**
 * Writes all of a sound.
 * @param piece frames at a time
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @returns `null` when stopped
 */
async function writeAll(
  writer: SoundWriter,
  frames: number,
  piece: number,
  make: MakeSound,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<WrittenSound | null> {
  for (let start = 0; start < frames; start += piece) {
    const count = Math.min(piece, frames - start);
    await writer.write(await make(start, count), count);
    if (!(await proceed((start + count) / frames))) return null;
  }
  return writer.finish();
}

/**
 * Writes a WAV file; channels go into the order that WAV files have.
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @returns `null` when stopped
 */
export async function renderFile(
  spec: RenderSpec,
  make: MakeSound,
  sink: PlacedSink,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<(WrittenSound & { readonly loudnessAt: number | null }) | null> {
  const writer = await pcmWriter({ ...spec, kind: 'wav' }, sink);
  const piece = spec.sampleRate * (spec.pieceSeconds ?? 2);
  const written = await writeAll(writer, spec.frames, piece, make, proceed);
  return written && { ...written, loudnessAt: writer.loudnessAt ?? null };
}

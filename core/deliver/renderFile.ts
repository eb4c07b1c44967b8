import { wavChannels, type Layout } from '@/core/audio/layout';
import { encodePcm, type WriteFormat } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';

/** Where finished bytes go, in order. */
export type Sink = (bytes: Uint8Array<ArrayBuffer>) => void | Promise<void>;

export interface RenderSpec {
  readonly sampleRate: number;
  readonly layout: Layout;
  readonly format: WriteFormat;
  readonly frames: number;
  /** How much is made at a time; two seconds where left out. */
  readonly pieceSeconds?: number;
}

/**
 * Writes a WAV file from sound made piece by piece; channels go into the order that WAV files have.
 * @param make gives frames [start, start + count)
 * @param proceed asked between pieces with the part done (0 to 1); `false` stops
 * @returns how many samples had to be held at full scale, or `null` when stopped
 */
export async function renderFile(
  spec: RenderSpec,
  make: (start: number, count: number) => Promise<Float32Array[]>,
  sink: Sink,
  proceed: (done: number) => boolean | Promise<boolean>,
): Promise<{ clippedSamples: number } | null> {
  const { header, trailer } = wavFrame(spec);
  await sink(header);
  const piece = spec.sampleRate * (spec.pieceSeconds ?? 2);
  const { order } = wavChannels(spec.layout);
  let clippedSamples = 0;
  for (let start = 0; start < spec.frames; start += piece) {
    const count = Math.min(piece, spec.frames - start);
    const samples = await make(start, count);
    const ordered = order.map((channel) => samples[channel]!);
    const { bytes, clipped } = encodePcm(ordered, count, spec.format);
    clippedSamples += clipped;
    await sink(bytes);
    if (!(await proceed((start + count) / spec.frames))) return null;
  }
  if (trailer.length > 0) await sink(trailer);
  return { clippedSamples };
}

import { wavChannels, type Layout } from '@/core/audio/layout';
import { Dither } from '@/core/audio/dither';
import type { AudioMetadata } from '@/core/audio/metadata';
import type { WriteFormat } from '@/core/audio/pcm';
import type { FramePart, PlacedSink, SoundWriter } from '@/core/audio/soundWriter';
import { encodeSamples } from '@/core/kernels/encode';
import { aiffFrame } from './aiff/write';
import { wavFrame } from './wav/write';

/** A file of plain samples. */
export interface PcmFile {
  readonly kind: 'wav' | 'rf64' | 'bw64' | 'aiff';
  readonly sampleRate: number;
  readonly layout: Layout;
  readonly format: WriteFormat;
  /** How many there will be. */
  readonly frames: number;
  readonly dither?: boolean;
  readonly metadata?: AudioMetadata | null;
  /** Without dither only, as that goes on from sample to sample; all of it where left out. */
  readonly part?: FramePart;
}

/**
 * Writes a file of plain samples. Its header goes to the sink at once.
 * @throws AudioFileError when the kind cannot hold so much
 */
export async function pcmWriter(file: PcmFile, sink: PlacedSink): Promise<SoundWriter> {
  const { kind, layout, format } = file;
  const { header, trailer, loudnessAt } =
    kind === 'aiff'
      ? { ...aiffFrame(file), loudnessAt: null }
      : wavFrame({ ...file, ...(kind !== 'wav' && { container: kind }) });
  const dither = file.dither && format !== 'f32' ? new Dither() : null;
  const { order } = wavChannels(layout);
  let at = 0;
  let clippedSamples = 0;
  const put = async (bytes: Uint8Array<ArrayBuffer>): Promise<void> => {
    await sink(bytes, at);
    at += bytes.length;
  };
  const { from, to } = file.part ?? { from: 0, to: file.frames };
  if (from === 0) await put(header);
  return {
    ...(loudnessAt !== null && from === 0 && { loudnessAt }),
    async write(samples, frames) {
      const ordered = order.map((channel) => samples[channel]!);
      const { bytes, clipped } = encodeSamples(ordered, frames, format, dither, kind === 'aiff');
      clippedSamples += clipped;
      await put(bytes);
    },
    async finish() {
      if (to === file.frames && trailer.length > 0) await put(trailer);
      return { clippedSamples };
    },
  };
}

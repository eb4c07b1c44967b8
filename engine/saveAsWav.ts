import type { WriteFormat } from '@/core/audio/pcm';
import type { AudioFormat } from '@/core/audio/reader';
import { encodeSamples } from '@/core/kernels/encode';
import { wavFrame } from '@/core/formats/wav/write';
import { BlobWriter } from './blobWriter';

/** Decoded sound on its way into a WAV file, so that it need not be decoded again. */
export class WavKeeper {
  private readonly writer = new BlobWriter();

  /** @param bitDepth of the sound; up to 16 bits are kept as they are, all else as float */
  constructor(bitDepth: number) {
    this.format = bitDepth <= 16 ? 's16' : 'f32';
  }

  private readonly format: WriteFormat;

  take(chunk: Float32Array[]): void {
    this.writer.write(encodeSamples(chunk, chunk[0]!.length, this.format).bytes);
  }

  finish({ sampleRate, layout, frames }: AudioFormat): Blob {
    const { header, trailer } = wavFrame({ sampleRate, layout, frames, format: this.format });
    this.writer.write(trailer);
    return this.writer.finish('audio/wav', header);
  }
}

import type { ByteSource } from '@/core/audio/byteSource';
import { bytesPerSample, decodePcm, type SampleEncoding } from '@/core/audio/pcm';
import type { AudioFormat, AudioReader, PcmAccess } from '@/core/audio/reader';
import { shortRead } from './errors';

/** Where a file's samples lie, and how. */
export interface PcmPlace {
  readonly encoding: SampleEncoding;
  readonly dataOffset: number;
}

/** Plain samples in a file, read in slices. */
export class PcmReader implements AudioReader {
  readonly pcm: PcmAccess;
  private readonly stride: number;

  constructor(
    private readonly source: ByteSource,
    readonly format: AudioFormat,
    private readonly place: PcmPlace,
  ) {
    this.stride = format.layout.labels.length * bytesPerSample(place.encoding);
    this.pcm = {
      encoding: place.encoding,
      readBytes: (start, count, into) => this.readBytes(start, count, into),
    };
  }

  private async readBytes(start: number, count: number, into?: Uint8Array): Promise<Uint8Array> {
    const wanted = count * this.stride;
    const bytes = await this.source.read(this.place.dataOffset + start * this.stride, wanted, into);
    if (bytes.length < wanted) throw shortRead();
    return bytes;
  }

  async read(start: number, count: number): Promise<Float32Array[]> {
    const { frames, layout } = this.format;
    const from = Math.min(Math.max(start, 0), frames);
    const to = Math.min(Math.max(start + count, from), frames);
    const bytes = await this.readBytes(from, to - from);
    const decoded = decodePcm(bytes, this.place.encoding, layout.labels.length, to - from).channels;
    if (to - from === count) return decoded;
    return decoded.map((channel) => {
      const padded = new Float32Array(count);
      if (to > from) padded.set(channel, from - start);
      return padded;
    });
  }
}

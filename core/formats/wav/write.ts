import { STEREO, wavChannels, type Layout } from '@/core/audio/layout';
import { bytesPerSample, WRITTEN, type WriteFormat } from '@/core/audio/pcm';

const LARGEST_RIFF = 0xffffffff;

/** KSDATAFORMAT_SUBTYPE GUID after its first two bytes, which repeat the format tag. */
const SUBTYPE_TAIL = [0x00, 0x00, 0x00, 0x00, 0x10, 0x00, 0x80, 0x00, 0x00, 0xaa, 0x00, 0x38, 0x9b, 0x71];

class HeaderBytes {
  private readonly bytes: number[] = [];
  text(value: string): this {
    for (const char of value) this.bytes.push(char.charCodeAt(0));
    return this;
  }
  u16(value: number): this {
    this.bytes.push(value & 0xff, (value >> 8) & 0xff);
    return this;
  }
  u32(value: number): this {
    return this.u16(value % 65536).u16(Math.floor(value / 65536) % 65536);
  }
  u64(value: number): this {
    return this.u32(value % 2 ** 32).u32(Math.floor(value / 2 ** 32));
  }
  raw(values: readonly number[]): this {
    this.bytes.push(...values);
    return this;
  }
  done(): Uint8Array<ArrayBuffer> {
    return new Uint8Array(this.bytes);
  }
}

/** A file's bytes around its samples. */
export interface WavFrame {
  readonly header: Uint8Array<ArrayBuffer>;
  /** What comes after the samples: the pad byte of an odd data chunk. */
  readonly trailer: Uint8Array<ArrayBuffer>;
}

/**
 * Header and trailer of a WAV file whose length is known beforehand. Over 4 GB it becomes RF64. What is
 * neither mono nor stereo is written as WAVE_FORMAT_EXTENSIBLE with the layout's channel mask; the samples have to come in
 * the order of {@link wavChannels}.
 * Sources: RIFF/WAVE; EBU Tech 3306 (RF64).
 */
export function wavFrame(spec: {
  readonly sampleRate: number;
  readonly layout: Layout;
  readonly format: WriteFormat;
  readonly frames: number;
}): WavFrame {
  const channels = spec.layout.labels.length;
  const width = bytesPerSample(WRITTEN[spec.format]);
  const dataSize = spec.frames * channels * width;
  const pad = dataSize % 2;
  const tag = spec.format === 'f32' ? 3 : 1;
  const { mask } = wavChannels(spec.layout);
  // One channel, and plain stereo, are known without a mask.
  const extensible = channels > 2 || (channels === 2 && spec.layout.labels.join() !== STEREO.labels.join());
  const formatSize = extensible ? 40 : tag === 3 ? 18 : 16;
  const factSize = tag === 3 ? 12 : 0;
  const riffSize = 4 + 8 + formatSize + factSize + 8 + dataSize + pad;
  const large = riffSize > LARGEST_RIFF;

  const out = new HeaderBytes();
  out
    .text(large ? 'RF64' : 'RIFF')
    .u32(large ? LARGEST_RIFF : riffSize)
    .text('WAVE');
  if (large)
    out
      .text('ds64')
      .u32(28)
      .u64(riffSize + 36)
      .u64(dataSize)
      .u64(spec.frames)
      .u32(0);
  out
    .text('fmt ')
    .u32(formatSize)
    .u16(extensible ? 0xfffe : tag)
    .u16(channels)
    .u32(spec.sampleRate);
  out
    .u32(spec.sampleRate * channels * width)
    .u16(channels * width)
    .u16(width * 8);
  if (extensible)
    out
      .u16(22)
      .u16(width * 8)
      .u32(mask)
      .u16(tag)
      .raw(SUBTYPE_TAIL);
  else if (tag === 3) out.u16(0);
  if (factSize) out.text('fact').u32(4).u32(Math.min(spec.frames, LARGEST_RIFF));
  out.text('data').u32(large ? LARGEST_RIFF : dataSize);
  return { header: out.done(), trailer: new Uint8Array(pad) };
}

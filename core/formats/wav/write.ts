import type { AudioMetadata } from '@/core/audio/metadata';
import { STEREO, wavChannels, type Layout } from '@/core/audio/layout';
import { bytesPerSample, WRITTEN, type WriteFormat } from '@/core/audio/pcm';
import { HeaderBytes, utf8Of } from '../headerBytes';
import { bextBytes, LOUDNESS_AT } from './bext';
import { cueChunks } from './cues';

const LARGEST_RIFF = 0xffffffff;

/** KSDATAFORMAT_SUBTYPE GUID after its first two bytes, which repeat the format tag. */
const SUBTYPE_TAIL = [0x00, 0x00, 0x00, 0x00, 0x10, 0x00, 0x80, 0x00, 0x00, 0xaa, 0x00, 0x38, 0x9b, 0x71];

/** A file's bytes around its samples. */
export interface WavFrame {
  readonly header: Uint8Array<ArrayBuffer>;
  /** What comes after the samples: the pad byte of an odd data chunk. */
  readonly trailer: Uint8Array<ArrayBuffer>;
  /** Where the loudness figures stand that the file states, bytes from its start; `null` where it states none. */
  readonly loudnessAt: number | null;
}

/** A file whose length is known beforehand. */
export interface WavSpec {
  readonly sampleRate: number;
  readonly layout: Layout;
  readonly format: WriteFormat;
  readonly frames: number;
  /** Left out: WAV, which becomes RF64 over 4 GB. */
  readonly container?: 'rf64' | 'bw64';
  /** Written as a broadcast extension, cue points and an iXML document; left out: none of them. */
  readonly metadata?: AudioMetadata | null;
}

const padded = (bytes: number): number => bytes + (bytes % 2);

/** The chunks of what a file says of itself. */
const saidChunks = (
  metadata: AudioMetadata,
): readonly (readonly [id: string, content: Uint8Array<ArrayBuffer>])[] => [
  ['bext', bextBytes(metadata)],
  ...cueChunks(metadata.markers),
  ...(metadata.ixml === null ? [] : ([['iXML', utf8Of(metadata.ixml)]] as const)),
];

/**
 * Header and trailer of a WAV file. Over 4 GB it becomes RF64. What is neither mono nor stereo is written as
 * WAVE_FORMAT_EXTENSIBLE with the layout's channel mask; the samples have to come in the order of {@link wavChannels}.
 * Sources: RIFF/WAVE; EBU Tech 3285 (BWF); EBU Tech 3306 (RF64); ITU-R BS.2088-1 (BW64).
 */
export function wavFrame({ sampleRate, layout, format, frames, container, metadata }: WavSpec): WavFrame {
  const channels = layout.labels.length;
  const width = bytesPerSample(WRITTEN[format]);
  const dataSize = frames * channels * width;
  const pad = dataSize % 2;
  const tag = format === 'f32' ? 3 : 1;
  const { mask } = wavChannels(layout);
  // One channel, and plain stereo, are known without a mask.
  const extensible = channels > 2 || (channels === 2 && layout.labels.join() !== STEREO.labels.join());
  const formatSize = extensible ? 40 : tag === 3 ? 18 : 16;
  const factSize = tag === 3 ? 12 : 0;
  const said = metadata ? saidChunks(metadata) : [];
  const saidSize = said.reduce((sum, [, content]) => sum + 8 + padded(content.length), 0);
  const riffSize = 4 + saidSize + 8 + formatSize + factSize + 8 + dataSize + pad;
  const large = container !== undefined || riffSize > LARGEST_RIFF;

  const out = new HeaderBytes();
  out
    .text(container === 'bw64' ? 'BW64' : large ? 'RF64' : 'RIFF')
    .u32(large ? LARGEST_RIFF : riffSize)
    .text('WAVE');
  if (large)
    out
      .text('ds64')
      .u32(28)
      .u64(riffSize + 36)
      .u64(dataSize)
      .u64(frames)
      .u32(0);
  let loudnessAt: number | null = null;
  for (const [id, content] of said) {
    out.text(id).u32(content.length);
    if (id === 'bext') loudnessAt = out.length + LOUDNESS_AT;
    out.raw(content).raw(new Uint8Array(content.length % 2));
  }
  out
    .text('fmt ')
    .u32(formatSize)
    .u16(extensible ? 0xfffe : tag)
    .u16(channels)
    .u32(sampleRate);
  out
    .u32(sampleRate * channels * width)
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
  if (factSize) out.text('fact').u32(4).u32(Math.min(frames, LARGEST_RIFF));
  out.text('data').u32(large ? LARGEST_RIFF : dataSize);
  return { header: out.done(), trailer: new Uint8Array(pad), loudnessAt };
}

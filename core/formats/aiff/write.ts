import type { Layout } from '@/core/audio/layout';
import type { AudioMetadata } from '@/core/audio/metadata';
import { bytesPerSample, WRITTEN, type WriteFormat } from '@/core/audio/pcm';
import { AudioFileError } from '../errors';
import { asciiOf, HeaderBytes } from '../headerBytes';

/** The size of a form is kept in 32 bits. */
const LARGEST_FORM = 0xffffffff;

/** A whole positive number as an 80-bit IEEE 754 extended number. */
function extended(out: HeaderBytes, value: number): void {
  const exponent = Math.floor(Math.log2(value));
  const mantissa = value / 2 ** exponent;
  const high = Math.floor(mantissa * 2 ** 31);
  out
    .u16be(exponent + 16383)
    .u32be(high)
    .u32be(0);
}

function chunk(out: HeaderBytes, id: string, content: Uint8Array): void {
  out
    .text(id)
    .u32be(content.length)
    .raw(content)
    .raw(new Uint8Array(content.length % 2));
}

const bytesOf = (text: string): Uint8Array => new HeaderBytes().text(asciiOf(text)).done();

function markersOf({ markers }: AudioMetadata): Uint8Array | null {
  const told = markers.filter(({ frame }) => frame >= 0 && frame < 2 ** 32).slice(0, 65_535);
  if (told.length === 0) return null;
  const out = new HeaderBytes().u16be(told.length);
  told.forEach(({ frame, label }, i) => {
    const text = asciiOf(label).slice(0, 255);
    out
      .u16be(i + 1)
      .u32be(frame)
      .u8(text.length)
      .text(text)
      // Name and count together are even.
      .raw(new Uint8Array((text.length + 1) % 2));
  });
  return out.done();
}

/** A file's bytes around its samples. */
export interface AiffFrame {
  readonly header: Uint8Array<ArrayBuffer>;
  readonly trailer: Uint8Array<ArrayBuffer>;
}

/**
 * Header and trailer of an AIFF file (AIFF-C for float); its samples come with the most significant byte first.
 * @throws AudioFileError when it would be larger than 4 GB
 * Sources: Apple, Audio Interchange File Format 1.3; AIFF-C, draft 8/26/91.
 */
export function aiffFrame(spec: {
  readonly sampleRate: number;
  readonly layout: Layout;
  readonly format: WriteFormat;
  readonly frames: number;
  readonly metadata?: AudioMetadata | null;
}): AiffFrame {
  const { sampleRate, layout, format, frames, metadata } = spec;
  const { bits } = WRITTEN[format];
  const channels = layout.labels.length;
  const dataSize = frames * channels * bytesPerSample(WRITTEN[format]);
  const float = format === 'f32';
  const common = new HeaderBytes().u16be(channels).u32be(frames).u16be(bits);
  extended(common, sampleRate);
  // The name of the compression is a counted text.
  if (float) common.text('fl32').u8(0).u8(0);
  const body = new HeaderBytes();
  if (float) chunk(body, 'FVER', new HeaderBytes().u32be(0xa2805140).done());
  chunk(body, 'COMM', common.done());
  if (metadata?.description) chunk(body, 'NAME', bytesOf(metadata.description));
  if (metadata?.originator) chunk(body, 'AUTH', bytesOf(metadata.originator));
  const markers = metadata ? markersOf(metadata) : null;
  if (markers) chunk(body, 'MARK', markers);
  body
    .text('SSND')
    .u32be(8 + dataSize)
    .u32be(0)
    .u32be(0);
  const formSize = 4 + body.length + dataSize + (dataSize % 2);
  if (formSize > LARGEST_FORM)
    throw new AudioFileError(
      'tooLarge',
      'An AIFF file holds at most 4 GB, and this one would be larger.',
      'Select WAV, RF64 or BW64.',
    );
  const header = new HeaderBytes()
    .text('FORM')
    .u32be(formSize)
    .text(float ? 'AIFC' : 'AIFF')
    .raw(body.done());
  return { header: header.done(), trailer: new Uint8Array(dataSize % 2) };
}

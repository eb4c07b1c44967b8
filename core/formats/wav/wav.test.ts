import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MONO, STEREO, SURROUND_5_1, type Layout } from '@/core/audio/layout';
import { bytesSource } from '@/core/audio/byteSource';
import { encodePcm, type WriteFormat } from '@/core/audio/pcm';
import { measureReader } from '@/core/loudness/measureReader';
import { noise } from '@/core/testing/signals';
import type { AudioReader } from '@/core/audio/reader';
import { AudioFileError } from '../errors';
import { openPcm } from '../openPcm';
import { wavFrame } from './write';

function write(
  channels: Float32Array[],
  layout: Layout,
  format: WriteFormat,
  sampleRate = 48_000,
): Uint8Array {
  const frames = channels[0]!.length;
  const { header, trailer } = wavFrame({ sampleRate, layout, format, frames });
  const { bytes } = encodePcm(channels, frames, format);
  return new Uint8Array([...header, ...bytes, ...trailer]);
}

const text = (value: string): number[] => [...value].map((char) => char.charCodeAt(0));
const u16 = (value: number): number[] => [value & 255, value >> 8];
const u32 = (value: number): number[] => [...u16(value % 65536), ...u16(Math.floor(value / 65536))];

interface Made {
  tag?: number;
  channels?: number;
  rate?: number;
  bits?: number;
  align?: number;
  data?: number[];
  dataSize?: number;
  before?: number[];
  after?: number[];
}

function make({
  tag = 1,
  channels = 1,
  rate = 48_000,
  bits = 16,
  align,
  data = [0, 64, 0, 192],
  dataSize,
  before = [],
  after = [],
}: Made): Uint8Array {
  const block = align ?? (channels * bits) / 8;
  const format = [
    ...u16(tag),
    ...u16(channels),
    ...u32(rate),
    ...u32(rate * block),
    ...u16(block),
    ...u16(bits),
  ];
  const body = [
    ...text('WAVE'),
    ...before,
    ...text('fmt '),
    ...u32(16),
    ...format,
    ...text('data'),
    ...u32(dataSize ?? data.length),
    ...data,
    ...after,
  ];
  return new Uint8Array([...text('RIFF'), ...u32(body.length), ...body]);
}

const open = (bytes: Uint8Array): Promise<AudioReader> => openPcm(bytesSource(bytes));
async function samples(bytes: Uint8Array): Promise<number[][]> {
  const reader = await open(bytes);
  return (await reader.read(0, reader.format.frames)).map((channel) => [...channel]);
}

describe('what is written is read back', () => {
  it.each([
    ['s24', MONO],
    ['s24', STEREO],
    ['s24', SURROUND_5_1],
    ['f32', MONO],
    ['f32', STEREO],
    ['f32', SURROUND_5_1],
  ] as const)('%s, %o', async (format, layout) => {
    const channels = layout.labels.map((_, c) => noise(1001, 0.9, c + 1));
    const reader = await open(write(channels, layout, format, 44_100));
    expect(reader.format).toMatchObject({ sampleRate: 44_100, frames: 1001, layout, warnings: [] });
    const back = await reader.read(0, 1001);
    back.forEach((channel, c) => {
      for (let i = 0; i < channel.length; i++) {
        if (format === 'f32') expect(channel[i]).toBe(channels[c]![i]);
        else expect(Math.abs(channel[i]! - channels[c]![i]!)).toBeLessThanOrEqual(0.5 / 8388608 + 1e-9);
      }
    });
  });

  it('24-bit is held at full scale, and says how often', () => {
    const { bytes, clipped } = encodePcm([Float32Array.of(1.5, -1.5, 1, -1, 0.5)], 5, 's24');
    expect(clipped).toBe(3);
    expect([...bytes.subarray(0, 6)]).toEqual([255, 255, 127, 0, 0, 128]);
  });

  it('becomes RF64 when it is over 4 GB', () => {
    const frames = 800_000_000;
    const { header } = wavFrame({ sampleRate: 48_000, layout: STEREO, format: 'f32', frames });
    const view = new DataView(header.buffer);
    expect(String.fromCharCode(...header.subarray(0, 4))).toBe('RF64');
    expect(String.fromCharCode(...header.subarray(12, 16))).toBe('ds64');
    expect(view.getBigUint64(28, true)).toBe(BigInt(frames * 8));
    expect(view.getBigUint64(20, true)).toBe(BigInt(frames * 8 + header.length - 8));
  });

  it('an RF64 header leads to the sound', async () => {
    const { header } = wavFrame({ sampleRate: 48_000, layout: STEREO, format: 'f32', frames: 800_000_000 });
    const size = header.length + 800_000_000 * 8;
    const reader = await openPcm({
      size,
      read: (offset, length) => {
        const out = new Uint8Array(Math.max(0, Math.min(length, size - offset)));
        if (offset < header.length) out.set(header.subarray(offset, offset + out.length));
        return Promise.resolve(out);
      },
    });
    expect(reader.format).toMatchObject({ container: 'RF64', frames: 800_000_000 });
    expect(await reader.read(799_999_999, 1)).toEqual([new Float32Array(1), new Float32Array(1)]);
  });
});

describe('sample formats', () => {
  it.each([
    ['8-bit', { bits: 8, data: [128, 192, 64, 0] }, [0, 0.5, -0.5, -1]],
    ['16-bit', { bits: 16, data: [0, 64, 0, 192, 0, 128] }, [0.5, -0.5, -1]],
    ['24-bit', { bits: 24, data: [0, 0, 64, 0, 0, 192] }, [0.5, -0.5]],
    ['32-bit', { bits: 32, data: [0, 0, 0, 64, 0, 0, 0, 192] }, [0.5, -0.5]],
    [
      'float 32',
      { tag: 3, bits: 32, data: [...new Uint8Array(Float32Array.of(0.5, 1.5).buffer)] },
      [0.5, 1.5],
    ],
    [
      'float 64',
      { tag: 3, bits: 64, data: [...new Uint8Array(Float64Array.of(0.25, -2).buffer)] },
      [0.25, -2],
    ],
  ] as const)('%s', async (_name, made, expected) => {
    expect(await samples(make({ ...made, data: [...made.data] }))).toEqual([[...expected]]);
  });

  it('counts what is not finite and reads it as silence', async () => {
    const reader = await open(
      make({ tag: 3, bits: 32, data: [...new Uint8Array(Float32Array.of(NaN, 1, -Infinity, 1e-20).buffer)] }),
    );
    expect([...(await reader.read(0, 4))[0]!]).toEqual([0, 1, 0, 0]);
    expect((await measureReader(reader, () => true))!.notFinite).toBe(2);
  });
});

describe('odd files that can be read', () => {
  it('chunks before and after, odd ones padded', async () => {
    const odd = [...text('LIST'), ...u32(3), 1, 2, 3, 0];
    expect(await samples(make({ before: odd, after: odd }))).toEqual([[0.5, -0.5]]);
  });

  it.each([0xffffffff, 0])('a data chunk that gives its size as %i is read to the end', async (dataSize) => {
    const reader = await open(make({ dataSize }));
    expect(reader.format.frames).toBe(2);
    expect(reader.format.warnings[0]).toMatch(/read to the end/);
  });

  it('a file cut short says how much is missing', async () => {
    const reader = await open(make({ dataSize: 4 + 2 * 24_000 }));
    expect(reader.format.frames).toBe(2);
    expect(reader.format.warnings[0]).toBe('The file ends 0.50 s before it should; what is there was read.');
  });

  it('text without end beside the sound is left out, and that is said', async () => {
    const label = [...text('labl'), ...u32(8), ...u32(1), ...text('gust')];
    const list = (labels: number): number[] => {
      const body = [...text('adtl'), ...Array.from({ length: labels }, () => label).flat()];
      return [...text('LIST'), ...u32(body.length), ...body];
    };
    const one = list(100_000);
    const bytes = make({ before: [] });
    const many = new Uint8Array(bytes.length + 3 * one.length);
    many.set(bytes);
    for (let i = 0; i < 3; i++) many.set(one, bytes.length + i * one.length);
    const { format } = await open(many);
    expect(format.frames).toBe(2);
    expect(format.warnings).toEqual([
      'The file holds more text beside its sound than 4 MB; not all of it was read.',
    ]);
    expect((await open(make({ after: list(3) }))).format.warnings).toEqual([]);
  });

  it('outside the sound there is silence', async () => {
    const reader = await open(make({}));
    expect([...(await reader.read(-2, 6))[0]!]).toEqual([0, 0, 0.5, -0.5, 0, 0]);
    expect([...(await reader.read(100, 2))[0]!]).toEqual([0, 0]);
  });
});

describe('files that cannot be used say why and what to do', () => {
  it.each([
    ['nothing', new Uint8Array(0), 'empty', /empty/],
    ['text', new Uint8Array(text('Dear diary, it is cold up here.')), 'notAudio', /not an audio file/],
    ['an MP3', new Uint8Array(text('ID3 and then some more')), 'unsupportedContainer', /MP3/],
    ['FLAC under another name', new Uint8Array(text('fLaC and then some')), 'unsupportedContainer', /FLAC/],
    ['A-law', make({ tag: 6, bits: 8 }), 'unsupportedCodec', /A-law/],
    ['12-bit float', make({ tag: 3, bits: 16 }), 'unsupportedCodec', /16-bit samples/],
    ['no channels', make({ channels: 0, align: 2 }), 'damagedHeader', /no channels/],
    ['65,535 channels', make({ channels: 65_535, align: 2 }), 'tooManyChannels', /65,535 channels/],
    ['1 Hz', make({ rate: 1 }), 'unsupportedRate', /1 Hz/],
    ['4 GHz', make({ rate: 4_000_000_000 }), 'unsupportedRate', /4,000,000,000 Hz/],
    ['a frame size that cannot be', make({ align: 7 }), 'damagedHeader', /contradicts itself/],
    ['an empty data chunk', make({ data: [] }), 'noSound', /0 s long/],
    ['a header alone', make({}).subarray(0, 36), 'noSound', /no sound in it/],
    ['only RIFF', make({}).subarray(0, 12), 'damagedHeader', /how its sound is stored/],
    ['big-endian RIFF', new Uint8Array([...text('RIFX'), 0, 0, 0, 0]), 'unsupportedContainer', /RIFX/],
  ] as const)('%s', async (_name, bytes, code, message) => {
    const error = await open(bytes).then(
      () => null,
      (reason: unknown) => reason,
    );
    expect(error).toBeInstanceOf(AudioFileError);
    expect(error).toMatchObject({ code, message: expect.stringMatching(message) as string });
    expect((error as AudioFileError).hint).toMatch(/\.$/);
  });

  it('random damage never brings anything but a typed error or readable sound', async () => {
    const good = make({ data: Array.from({ length: 400 }, (_, i) => i % 256) });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { maxLength: 8 }),
        fc.integer({ min: 0, max: good.length }),
        async (changes, length) => {
          const bytes = good.slice(0, length);
          for (const [at, value] of changes) if (at < length) bytes[at] = value;
          try {
            const reader = await open(bytes);
            const channels = await reader.read(0, reader.format.frames);
            expect(channels.every((channel) => channel.every(Number.isFinite))).toBe(true);
          } catch (error) {
            expect(error).toBeInstanceOf(AudioFileError);
          }
        },
      ),
      { numRuns: 1500 },
    );
  });
});

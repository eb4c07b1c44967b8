import { createHash } from 'node:crypto';
import { registerAc3Encoder } from '@mediabunny/ac3';
import {
  ALL_FORMATS,
  AudioSample,
  AudioSampleSource,
  BufferSource,
  BufferTarget,
  EncodedPacketSink,
  Input,
  Mp4OutputFormat,
  Output,
} from 'mediabunny';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { MONO, STEREO, SURROUND_5_1, type Layout } from '@/core/audio/layout';
import { NO_METADATA, type AudioMetadata } from '@/core/audio/metadata';
import type { WriteFormat } from '@/core/audio/pcm';
import { figuresOf } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { playOut } from '@/core/loudness/measureStream';
import { NO_TEXTS, WAV_24, type FileFormat, type FileKind } from '@/core/programme/delivery';
import { memoryReader } from '@/core/testing/signals';
import { dialnormOf, firstPart } from '../ac3Frame';
import { openSound } from '../open';
import { dialnormFor } from './ac3';
import { soundWriter } from './soundWriter';

const RATE = 48_000;
const FRAMES = RATE + 21_234;

/** Speech-like noise under two tones, another in every channel; never near full scale. */
const sound = (channels: number, frames = FRAMES): Float32Array[] =>
  Array.from({ length: channels }, (_, c) => {
    let state = 12_345 + c;
    return Float32Array.from({ length: frames }, (_, i) => {
      state = (Math.imul(state, 1_664_525) + 1_013_904_223) | 0;
      const swell = 0.6 + 0.4 * Math.sin((2 * Math.PI * i) / RATE);
      return (
        0.2 * Math.sin((2 * Math.PI * (300 + 170 * c) * i) / RATE) +
        swell * 0.1 * Math.sin((2 * Math.PI * 1_900 * i) / RATE) +
        (0.02 * state) / 2 ** 31
      );
    });
  });

/** Writes a file into memory, in pieces of odd length. */
async function write(
  format: Partial<FileFormat> & { readonly kind: FileKind },
  samples: readonly Float32Array[],
  layout: Layout = STEREO,
  metadata: AudioMetadata | null = null,
  more: Partial<Parameters<typeof soundWriter>[0]> = {},
): Promise<{ bytes: Uint8Array; clippedSamples: number }> {
  const chunks: { readonly at: number; readonly bytes: Uint8Array }[] = [];
  const frames = samples[0]!.length;
  const writer = await soundWriter(
    {
      ...{ format: { ...WAV_24, ...format }, sampleRate: RATE, layout, frames, metadata },
      ...{ texts: NO_TEXTS, saidLufs: null, ...more },
    },
    (bytes, at) => void chunks.push({ at, bytes: bytes.slice() }),
  );
  for (let at = 0; at < frames; at += 30_011) {
    const piece = samples.map((channel) => channel.subarray(at, at + 30_011));
    await writer.write(piece, piece[0]!.length);
  }
  const { clippedSamples } = await writer.finish();
  const bytes = new Uint8Array(Math.max(...chunks.map((chunk) => chunk.at + chunk.bytes.length)));
  for (const chunk of chunks) bytes.set(chunk.bytes, chunk.at);
  return { bytes, clippedSamples };
}

async function read(bytes: Uint8Array) {
  const opened = await openSound(bytesSource(bytes));
  if (opened.kind === 'pcm') {
    const { reader } = opened;
    return { format: reader.format, samples: await reader.read(0, reader.format.frames) };
  }
  const pieces: Float32Array[][] = [];
  const format = await playOut(
    opened.stream,
    (chunk) => void pieces.push(chunk.map((channel) => channel.slice())),
    () => true,
  );
  const samples = pieces[0]!.map((_, c) => Float32Array.from(pieces.flatMap((piece) => [...piece[c]!])));
  return { format: { ...opened.stream.format, ...format }, samples };
}

const step = (depth: WriteFormat): number => (depth === 's16' ? 2 ** -15 : depth === 's24' ? 2 ** -23 : 0);

/** The largest difference of two sounds over all channels. */
const apart = (a: readonly Float32Array[], b: readonly Float32Array[]): number =>
  Math.max(
    ...a.map((channel, c) => channel.reduce((most, x, i) => Math.max(most, Math.abs(x - b[c]![i]!)), 0)),
  );

describe('one channel stays one channel', () => {
  it.each<FileKind>(['wav', 'aiff', 'flac', 'mp3', 'opus', 'mov', 'mkv'])('in %s', async (kind) => {
    const mono = sound(1);
    const { bytes } = await write({ kind, depth: 's16' }, mono, MONO);
    const { samples } = await read(bytes);
    expect(samples).toHaveLength(1);
    const loudness = async (of: readonly Float32Array[]): Promise<number> =>
      figuresOf((await measureReader(memoryReader([...of], RATE), () => true))!.history).integratedLufs!;
    // Read as two channels it would be 3.01 LU louder.
    expect(Math.abs((await loudness(samples)) - (await loudness(mono)))).toBeLessThan(0.5);
  });
});

describe('what keeps every sample', () => {
  it.each<[FileKind, WriteFormat, Layout]>([
    ['wav', 's16', STEREO],
    ['wav', 's24', MONO],
    ['wav', 'f32', SURROUND_5_1],
    ['bwf', 's24', STEREO],
    ['rf64', 's24', STEREO],
    ['bw64', 'f32', SURROUND_5_1],
    ['aiff', 's16', STEREO],
    ['aiff', 's24', SURROUND_5_1],
    ['aiff', 'f32', STEREO],
    ['flac', 's16', STEREO],
    ['flac', 's24', STEREO],
    ['flac', 's24', SURROUND_5_1],
    ['mov', 's24', STEREO],
    ['mp4', 's16', STEREO],
    ['mkv', 's24', STEREO],
  ])('%s, %s: comes back as it was, to half a step', async (kind, depth, layout) => {
    const samples = sound(layout.labels.length);
    const { bytes, clippedSamples } = await write({ kind, depth, dither: false }, samples, layout);
    expect(clippedSamples).toBe(0);
    const back = await read(bytes);
    expect(back.format.sampleRate).toBe(RATE);
    expect(back.samples.map(({ length }) => length)).toEqual(samples.map(() => FRAMES));
    expect(apart(samples, back.samples)).toBeLessThanOrEqual(step(depth) / 2 + 1e-12);
  });

  it.each(['s16', 's24'] as const)('FLAC, %s: has the MD5 of its samples', async (depth) => {
    const samples = sound(2, 50_000);
    const { bytes } = await write({ kind: 'flac', depth, dither: false }, samples);
    const { bytes: wav } = await write({ kind: 'wav', depth, dither: false }, samples);
    const expected = createHash('md5').update(wav.subarray(44)).digest('hex');
    // Source: RFC 9639, clause 8.2: behind the marker, the block's head and 18 bytes.
    expect(Buffer.from(bytes.subarray(26, 42)).toString('hex')).toBe(expected);
  });

  it('what is past full scale is held there, and counted', async () => {
    const loud = [Float32Array.from({ length: 1_000 }, (_, i) => (i % 10 === 0 ? 1.5 : 0.1))];
    for (const kind of ['wav', 'aiff', 'flac'] as const)
      expect((await write({ kind }, loud, MONO)).clippedSamples).toBe(100);
  });
});

describe('what is coded with loss', () => {
  it.each<[FileKind, Partial<FileFormat>, number]>([
    ['mp3', { kbps: 192 }, 0.06],
    ['opus', { kbps: 192 }, 0.05],
    ['mp4', { kbps: 192, coded: true }, 0.05],
    ['mkv', { kbps: 192, coded: true }, 0.05],
  ])('%s: is as long as it was, lies where it lay, and is as loud', async (kind, format, difference) => {
    const samples = sound(2);
    const { bytes } = await write({ kind, ...format }, samples);
    const back = await read(bytes);
    // Matroska has times in milliseconds.
    const lengths = kind === 'mkv' ? 400 : 0;
    expect(Math.abs(back.samples[0]!.length - FRAMES)).toBeLessThanOrEqual(lengths);
    const loudness = async (of: readonly Float32Array[]): Promise<number> =>
      figuresOf((await measureReader(memoryReader([...of], RATE), () => true))!.history).integratedLufs!;
    expect(Math.abs((await loudness(back.samples)) - (await loudness(samples)))).toBeLessThan(0.1);
    const there = back.samples[0]!.length;
    expect(
      apart(
        samples.map((channel) => channel.subarray(0, there)),
        back.samples,
      ),
    ).toBeLessThan(difference);
  });

  it.each([128, 160, 192, 256, 320])('MP3 at %i kbit/s is no quieter than what went in', async (kbps) => {
    const tone = [Float32Array.from({ length: RATE }, (_, i) => 0.3 * Math.sin(i * 0.05))];
    const back = (await read((await write({ kind: 'mp3', kbps }, tone, MONO)).bytes)).samples[0]!;
    const product = (a: Float32Array, b: Float32Array): number =>
      a.subarray(9_000, 40_000).reduce((sum, x, i) => sum + x * b[9_000 + i]!, 0);
    expect(product(back, tone[0]!) / product(tone[0]!, tone[0]!)).toBeCloseTo(1, 3);
  });

  it('Opus says which gain brings it to −23 LUFS', async () => {
    const { bytes } = await write({ kind: 'opus' }, sound(2, RATE), STEREO, null, {
      texts: { title: 'Frostline', artist: 'Hut 4', description: 'Reel 2', language: 'en' },
      saidLufs: -19.5,
    });
    const text = new TextDecoder('latin1').decode(bytes);
    expect(text).toContain('R128_TRACK_GAIN=-896');
    expect(text).toContain('TITLE=Frostline');
  });

  it('is refused where the kind cannot hold it', async () => {
    await expect(write({ kind: 'opus' }, sound(6, 100), SURROUND_5_1)).rejects.toThrow(/mono or stereo/);
  });
});

describe('AC-3 in a film’s container', () => {
  /** Each bit shifted in, as the clause draws it. Source: ETSI TS 102 366, clause 6.1.7. */
  function leftOver(bytes: Uint8Array): number {
    let register = 0;
    for (const byte of bytes)
      for (let bit = 7; bit >= 0; bit--) {
        const top = register >> 15;
        register = ((register << 1) & 0xffff) | ((byte >> bit) & 1);
        if (top === 1) register ^= 0x8005;
      }
    return register;
  }

  async function framesOf(bytes: Uint8Array): Promise<Uint8Array[]> {
    const input = new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes.slice().buffer) });
    const packets: Uint8Array[] = [];
    for await (const { data } of new EncodedPacketSink((await input.getPrimaryAudioTrack())!).packets())
      packets.push(data);
    return packets;
  }

  it.each<[FileKind, Layout]>([
    ['mp4', STEREO],
    ['mov', SURROUND_5_1],
    ['mkv', STEREO],
    ['mp4', MONO],
  ])('%s: is as loud as it was, says so, and its checksums hold', async (kind, layout) => {
    const samples = sound(layout.labels.length);
    const format = { kind, coded: true, coder: 'ac3', kbps: 448 } as const;
    const { bytes } = await write(format, samples, layout, null, { saidLufs: -23.4 });
    const frames = await framesOf(bytes);
    expect(frames.map((frame) => dialnormOf(frame))).toEqual(frames.map(() => 23));
    for (const frame of frames) {
      expect(leftOver(frame.subarray(2, firstPart(frame.length)))).toBe(0);
      expect(leftOver(frame.subarray(2))).toBe(0);
    }
    const back = await read(bytes);
    // Matroska tells neither the coder's delay nor lengths to the sample.
    const later = kind === 'mkv' ? 256 : 0;
    expect(Math.abs(back.samples[0]!.length - FRAMES - later)).toBeLessThanOrEqual(kind === 'mkv' ? 60 : 0);
    // AC-3 holds no more than 120 Hz in the channel for low frequencies.
    const compared = (of: readonly Float32Array[], from: number): Float32Array[] =>
      of
        .filter((_, c) => layout.labels[c] !== 'LFE')
        .map((channel) => channel.subarray(from, from + FRAMES - 100));
    expect(apart(compared(samples, 0), compared(back.samples, later))).toBeLessThan(0.06);
    const loudness = async (of: readonly Float32Array[]): Promise<number> =>
      figuresOf((await measureReader(memoryReader([...of], RATE), () => true))!.history).integratedLufs!;
    expect(Math.abs((await loudness(back.samples)) - (await loudness(samples)))).toBeLessThan(0.1);
  });

  it('is read as E-AC-3 too, as loud as it was', async () => {
    registerAc3Encoder();
    const output = new Output({ format: new Mp4OutputFormat(), target: new BufferTarget() });
    const source = new AudioSampleSource({ codec: 'eac3', bitrate: 256_000 });
    output.addAudioTrack(source);
    await output.start();
    const samples = sound(2);
    const data = new Float32Array(2 * FRAMES);
    samples.forEach((channel, c) => channel.forEach((x, k) => (data[2 * k + c] = x)));
    const sample = new AudioSample({
      ...{ data, format: 'f32', numberOfChannels: 2, sampleRate: RATE, timestamp: 0 },
    });
    await source.add(sample);
    sample.close();
    source.close();
    await output.finalize();
    const back = await read(new Uint8Array(output.target.buffer!));
    expect(back.format.codec).toBe('E-AC-3');
    const power = (of: Float32Array): number => of.reduce((sum, x) => sum + x * x, 0);
    expect(10 * Math.log10(power(back.samples[0]!) / power(samples[0]!))).toBeCloseTo(0, 1);
  });

  it('says nothing where nothing is to be said, and what it can at most and at least', async () => {
    expect([null, -23.4, -40, 3].map(dialnormFor)).toEqual([31, 23, 31, 1]);
    const { bytes } = await write({ kind: 'mp4', coded: true, coder: 'ac3', kbps: 192 }, sound(2, 3_000));
    expect((await framesOf(bytes)).map(dialnormOf)).toEqual([31, 31, 31]);
  });
});

describe('16 bits', () => {
  const quiet = [Float32Array.from({ length: RATE }, (_, i) => 0.4 * 2 ** -15 * Math.sin(i / 20))];

  it('without dither lose what is fainter than half a step; with it that stays, under even noise', async () => {
    const plain = await read((await write({ kind: 'wav', depth: 's16', dither: false }, quiet, MONO)).bytes);
    expect(Math.max(...plain.samples[0]!)).toBe(0);
    const { bytes } = await write({ kind: 'wav', depth: 's16', dither: true }, quiet, MONO);
    const dithered = (await read(bytes)).samples[0]!;
    const product = (a: Float32Array, b: Float32Array): number => a.reduce((sum, x, i) => sum + x * b[i]!, 0);
    expect(product(dithered, quiet[0]!) / product(quiet[0]!, quiet[0]!)).toBeCloseTo(1, 1);
    // Triangular noise of two steps and rounding: 3/12 of a step squared in all.
    const noise = dithered.map((x, i) => (x - quiet[0]![i]!) * 2 ** 15);
    expect(product(noise, noise) / noise.length).toBeCloseTo(0.25, 2);
  });

  it('with dither are the same every time', async () => {
    const twice = [0, 1].map(() => write({ kind: 'wav', depth: 's16', dither: true }, quiet, MONO));
    const [a, b] = await Promise.all(twice);
    expect(Buffer.compare(a!.bytes, b!.bytes)).toBe(0);
  });
});

describe('what a file says of itself', () => {
  const said: AudioMetadata = {
    ...NO_METADATA,
    description: 'Frostline, reel 2',
    originator: 'Hut 4',
    originated: '2026-01-31 21:04:00',
    timeReference: 172_800_123,
    codingHistory: 'A=PCM,F=48000,W=24,M=stereo,T=Dengung',
    loudness: {
      integratedLufs: -23.04,
      loudnessRangeLu: 6.51,
      maxTruePeakDbtp: -1.2,
      maxMomentaryLufs: -14.33,
      maxShortTermLufs: -17,
    },
    markers: [
      { frame: 480, label: 'Café, Anfang' },
      { frame: 96_001, label: 'end' },
    ],
    ixml: '<BWFXML><PROJECT>Frostline</PROJECT></BWFXML>',
  };

  it.each(['bwf', 'rf64', 'bw64'] as const)('%s: is read back', async (kind) => {
    const { bytes } = await write({ kind }, sound(2, 10_000), STEREO, said);
    expect((await read(bytes)).format.metadata).toEqual(said);
    expect(new TextDecoder('latin1').decode(bytes.subarray(0, 4))).toBe(
      { bwf: 'RIFF', rf64: 'RF64', bw64: 'BW64' }[kind],
    );
  });

  it('AIFF: its name, author and markers', async () => {
    const { bytes } = await write({ kind: 'aiff' }, sound(2, 10_000), STEREO, said);
    const { metadata } = (await read(bytes)).format;
    expect(metadata?.markers).toEqual([
      { frame: 480, label: 'Cafe, Anfang' },
      { frame: 96_001, label: 'end' },
    ]);
  });

  it('letters that a field cannot hold lose their accents', async () => {
    const accents = { ...said, description: 'Café à gauche — 雪' };
    const { bytes } = await write({ kind: 'bwf' }, sound(1, 1_000), MONO, accents);
    expect((await read(bytes)).format.metadata?.description).toBe('Cafe a gauche ? ?');
  });
});

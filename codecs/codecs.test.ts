import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { AudioFileError } from '@/core/formats/errors';
import { figuresOf, type LoudnessFigures } from '@/core/loudness/figures';
import { measureReader } from '@/core/loudness/measureReader';
import { measureStream, playOut } from '@/core/loudness/measureStream';
import { memoryReader } from '@/core/testing/signals';
import { FIXTURE_FRAMES, FIXTURE_RATE, fixtureSound } from './fixtures/sound';
import { openSound } from './open';

const bytesOf = (name: string): Uint8Array => readFileSync(join(import.meta.dirname, 'fixtures', name));
const always = (): boolean => true;
const twin = fixtureSound();

async function measured(bytes: Uint8Array) {
  const sound = await openSound(bytesSource(bytes));
  if (sound.kind === 'stream') {
    const { format, measurement } = (await measureStream(sound.stream, always))!;
    return { format, figures: figuresOf(measurement.history) };
  }
  const measurement = (await measureReader(sound.reader, always))!;
  return { format: sound.reader.format, figures: figuresOf(measurement.history) };
}

async function samplesOf(bytes: Uint8Array): Promise<Float32Array[]> {
  const sound = await openSound(bytesSource(bytes));
  if (sound.kind === 'pcm') return sound.reader.read(0, sound.reader.format.frames);
  const pieces: Float32Array[][] = [];
  await playOut(sound.stream, (chunk) => void pieces.push(chunk.map((channel) => channel.slice())), always);
  return [0, 1].map((c) => Float32Array.from(pieces.flatMap((piece) => [...piece[c]!])));
}

let expected: LoudnessFigures | undefined;
async function twinFigures(): Promise<LoudnessFigures> {
  expected ??= figuresOf((await measureReader(memoryReader(twin, FIXTURE_RATE), always))!.history);
  return expected;
}

describe('every format measures what its samples were made from', () => {
  it.each([
    ['sound.flac', 'FLAC', 'FLAC 16-bit', 1e-9],
    ['sound-24.flac', 'FLAC', 'FLAC 24-bit', 1e-9],
    ['sound.aiff', 'AIFF', 'PCM 16-bit', 1e-9],
    ['sound.caf', 'CAF', 'PCM 16-bit', 1e-9],
    ['sound.mov', 'MP4 or MOV', 'PCM 24-bit', 1e-9],
    ['sound.mp3', 'MP3', 'MP3', 0.01],
    ['sound.ogg', 'Ogg', 'Vorbis', 0.1],
    ['sound.opus', 'Ogg', 'Opus', 0.01],
  ] as const)('%s', async (name, container, codec, tolerance) => {
    const { format, figures } = await measured(bytesOf(name));
    expect(format).toMatchObject({
      container,
      codec,
      sampleRate: FIXTURE_RATE,
      frames: FIXTURE_FRAMES,
      partial: false,
      warnings: [],
    });
    const reference = await twinFigures();
    expect(Math.abs(figures.integratedLufs! - reference.integratedLufs!)).toBeLessThanOrEqual(tolerance);
    expect(Math.abs(figures.maxShortTermLufs! - reference.maxShortTermLufs!)).toBeLessThanOrEqual(tolerance);
  });

  it.each(['sound.flac', 'sound-24.flac', 'sound.aiff', 'sound.caf', 'sound.mov'])(
    '%s gives back every sample',
    async (name) => {
      const samples = await samplesOf(bytesOf(name));
      samples.forEach((channel, c) => {
        expect(channel.length).toBe(FIXTURE_FRAMES);
        let worst = 0;
        for (let i = 0; i < channel.length; i++)
          worst = Math.max(worst, Math.abs(channel[i]! - twin[c]![i]!));
        expect(worst).toBe(0);
      });
    },
  );

  it('Vorbis measures what another decoder makes of it', async () => {
    const [ours, twinOfIt] = [
      await measured(bytesOf('sound.ogg')),
      await measured(bytesOf('sound-ogg-twin.flac')),
    ];
    expect(ours.format.frames).toBe(twinOfIt.format.frames);
    expect(ours.figures.integratedLufs!).toBeCloseTo(twinOfIt.figures.integratedLufs!, 4);
    expect(ours.figures.truePeakDbtp!).toBeCloseTo(twinOfIt.figures.truePeakDbtp!, 2);
  });

  it('Opus in WebM begins where the sound does', async () => {
    const [left] = await samplesOf(bytesOf('sound.webm'));
    let [best, place] = [-Infinity, 0];
    for (let shift = -400; shift <= 400; shift++) {
      let sum = 0;
      for (let i = 20_000; i < 30_000; i++) sum += left![i + shift]! * twin[0]![i]!;
      if (sum > best) [best, place] = [sum, shift];
    }
    expect(Math.abs(place)).toBeLessThanOrEqual(1);
  });
});

describe('what cannot be decoded here is said so', () => {
  it.each([
    ['sound.m4a', /AAC/],
    ['sound.aac', /AAC/],
    ['sound.m2t', /AAC/],
    ['sound.mkv', /Vorbis/],
  ])('%s', async (name, message) => {
    await expect(openSound(bytesSource(bytesOf(name)))).rejects.toMatchObject({
      code: 'noDecoder',
      message: expect.stringMatching(message) as string,
    });
  });

  it('a sound that is not there', async () => {
    const error = await openSound(bytesSource(bytesOf('sound.mov')), 3).catch((reason: unknown) => reason);
    expect(error).toBeInstanceOf(AudioFileError);
    expect(error).toMatchObject({
      code: 'noSuchTrack',
      message: expect.stringMatching(/1: PCM 24-bit/) as string,
    });
  });
});

describe('damaged files', () => {
  it.each(['sound.flac', 'sound.mp3', 'sound.ogg', 'sound.opus', 'sound.mov', 'sound.webm'])(
    '%s cut short is measured as far as it goes, or refused',
    async (name) => {
      const bytes = bytesOf(name);
      const found = await measured(bytes.subarray(0, Math.floor(bytes.length * 0.6))).catch(
        (error: unknown) => {
          expect(error).toBeInstanceOf(AudioFileError);
          return null;
        },
      );
      if (!found) return;
      expect(found.format.frames).toBeGreaterThan(0);
      expect(found.format.frames).toBeLessThan(FIXTURE_FRAMES);
    },
  );

  it('the first bytes alone are refused', async () => {
    for (const name of ['sound.flac', 'sound.mp3', 'sound.ogg', 'sound.opus', 'sound.mov', 'sound.webm'])
      await expect(measured(bytesOf(name).subarray(0, 60))).rejects.toBeInstanceOf(AudioFileError);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memoryReader, noise } from '@/core/testing/signals';
import { commonName, inChannelOrder } from './channelNames';
import { DUAL_MONO, STEREO, SURROUND_5_1, declaredLayout } from './layout';
import type { AudioReader } from './reader';
import type { AudioStream } from './stream';
import { ForwardReader, streamRange, streamWithLayout } from './streamViews';
import { combined, rangeOf, withLayout } from './views';

const mono = (frames: number, seed: number, rate = 48_000): AudioReader =>
  memoryReader([noise(frames, 0.5, seed)], rate);

/** A stereo sound as a stream that comes in uneven pieces. */
function streamOf(channels: Float32Array[], sizes: readonly number[]): AudioStream {
  const frames = channels[0]!.length;
  let at = 0;
  return {
    format: {
      ...{ container: 'T', codec: 'T', bitDepth: 32, sampleRate: 8_000, frames },
      ...{ layout: STEREO, layoutAssumed: null },
    },
    tracks: [{ index: 0, label: 'T' }],
    track: 0,
    get done() {
      return at / frames;
    },
    async *chunks() {
      for (let i = 0; at < frames; i++) {
        const size = Math.min(sizes[i % sizes.length]!, frames - at);
        yield await Promise.resolve(channels.map((channel) => channel.slice(at, at + size)));
        at += size;
      }
      return { integrity: [], remarks: ['end'] };
    },
    close: () => undefined,
  };
}

async function all(stream: AudioStream): Promise<number[][]> {
  const out: number[][] = [[], []];
  for await (const chunk of stream.chunks()) chunk.forEach((channel, c) => out[c]!.push(...channel));
  return out;
}

describe('views of a sound', () => {
  it('a range reads as the same samples would by themselves, silence outside', async () => {
    const whole = mono(5_000, 3);
    const samples = (await whole.read(0, 5_000))[0]!;
    await fc.assert(
      fc.asyncProperty(
        fc.nat(4_000),
        fc.integer({ min: 1, max: 900 }),
        fc.integer({ min: -200, max: 1_200 }),
        fc.nat(600),
        async (start, frames, from, count) => {
          const [x] = await rangeOf(whole, start, frames).read(from, count);
          const expected = Float32Array.from({ length: count }, (_, i) =>
            from + i >= 0 && from + i < frames ? samples[start + from + i]! : 0,
          );
          expect(x).toEqual(expected);
        },
      ),
    );
    expect(() => rangeOf(whole, 4_000, 2_000)).toThrow(RangeError);
  });

  it('channels can be declared to stand otherwise, as many as there are', () => {
    expect(withLayout(mono(10, 1), DUAL_MONO).format.layout).toBe(DUAL_MONO);
    expect(() => withLayout(mono(10, 1), STEREO)).toThrow(/stereo has 2 channels, the sound 1/);
  });

  it('mono files become one sound; shorter ones end in silence, and that is said', async () => {
    const readers = [mono(500, 1), mono(400, 2)];
    const both = combined(readers, STEREO);
    expect(both.format).toMatchObject({ frames: 500, layout: STEREO });
    expect(both.format.warnings.join()).toMatch(/not equally long/);
    const [left, right] = await both.read(0, 500);
    expect(left).toEqual((await readers[0]!.read(0, 500))[0]);
    expect(right!.subarray(400).every((x) => x === 0)).toBe(true);
  });

  it.each([
    [[mono(9, 1)], /stereo has 2 channels, but there are 1 files/],
    [[mono(9, 1), memoryReader([noise(9, 1), noise(9, 1)], 48_000)], /File 2 is not mono: it has 2 channels/],
    [[mono(9, 1), mono(9, 1, 44_100)], /different sample rates: 48000, 44100 Hz/],
  ])('what does not fit together is refused with the reason', (readers, message) => {
    expect(() => combined(readers, STEREO)).toThrow(message);
  });
});

describe('views of a stream', () => {
  const samples = [noise(3_000, 0.5, 1), noise(3_000, 0.5, 2)];
  const sizes = fc.array(fc.integer({ min: 1, max: 700 }), { minLength: 1, maxLength: 5 });

  it('a range gives just its frames', async () => {
    await fc.assert(
      fc.asyncProperty(sizes, fc.nat(2_999), fc.nat(3_500), async (pieces, from, length) => {
        const out = await all(streamRange(streamOf(samples, pieces), from, from + length));
        expect(out).toEqual(samples.map((x) => [...x.subarray(from, from + length)]));
      }),
      { numRuns: 30 },
    );
  });

  it('is read forward like a file, a little way back included', async () => {
    await fc.assert(
      fc.asyncProperty(
        sizes,
        fc.array(fc.tuple(fc.nat(100), fc.integer({ min: 1, max: 400 })), { minLength: 1 }),
        async (pieces, steps) => {
          const stream = streamOf(samples, pieces);
          const format = memoryReader(samples, 8_000).format;
          const reader = new ForwardReader(stream, format, 100);
          const plain = memoryReader(samples, 8_000);
          let furthest = 0;
          for (const [back, step] of steps) {
            const start = Math.max(0, furthest - back);
            expect(await reader.read(start, step)).toEqual(await plain.read(start, step));
            furthest = Math.max(furthest, start + step);
          }
        },
      ),
      { numRuns: 30 },
    );
  });

  it('never gives up silently: a read too far back is an error', async () => {
    const reader = new ForwardReader(streamOf(samples, [100]), memoryReader(samples, 8_000).format, 0);
    await reader.read(1_000, 200);
    await expect(reader.read(0, 10)).rejects.toThrow(/forward only/);
  });

  it('its channels can be declared, and its end is passed on', async () => {
    const layout = declaredLayout('stereo', 2)!;
    const stream = streamWithLayout(streamOf(samples, [512]), layout);
    expect(stream.format.layout).toBe(layout);
    const chunks = stream.chunks();
    let next = await chunks.next();
    while (!next.done) next = await chunks.next();
    expect(next.value).toEqual({ integrity: [], remarks: ['end'] });
    expect(stream.done).toBe(1);
  });
});

describe('names of channels', () => {
  it('put files in order when all of them say which channel they are', () => {
    const names = ['Hut.Rs.wav', 'Hut.C.wav', 'Hut.L.wav', 'Hut.LFE.wav', 'Hut.Ls.wav', 'Hut.R.wav'];
    const ordered = inChannelOrder(names.map((name) => ({ name }))).map(({ name }) => name);
    expect(ordered.map((name) => name.split('.')[1])).toEqual(SURROUND_5_1.labels);
    const unclear = [{ name: 'two.wav' }, { name: 'one.wav' }];
    expect(inChannelOrder(unclear)).toEqual(unclear);
  });

  it('are left off what the files are called together', () => {
    expect(commonName(['Hut.L.wav', 'Hut.R.wav'])).toBe('Hut');
    expect(commonName(['ridge wind_left.wav', 'ridge wind_right.wav'])).toBe('ridge wind');
    expect(commonName(['a.wav', 'b.wav'])).toBe('a');
  });
});

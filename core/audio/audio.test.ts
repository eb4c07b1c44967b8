import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { noise, tones } from '@/core/testing/signals';
import {
  DECLARABLE,
  DUAL_MONO,
  declaredLayout,
  layoutFor,
  MONO,
  STEREO,
  SURROUND_5_1,
  type Layout,
} from './layout';
import { newMixer } from '@/core/kernels/mixer';
import { isIdentity, mixMatrix } from './mixMatrix';
import { joinOverview, levelFor, OverviewBuilder } from './overview';
import { RateConverter } from './resample';

/** Level of a sine through a converter, dB relative to the level sent in. */
function throughLevel(from: number, to: number, hz: number): number {
  const converter = new RateConverter(from, to);
  const outStart = 4000;
  const count = 8000;
  const inStart = converter.inputStart(outStart);
  const input = Float32Array.from({ length: converter.inputCount(outStart, count) }, (_, i) =>
    Math.sin((2 * Math.PI * hz * (inStart + i)) / from),
  );
  const out = converter.convert(input, outStart, count);
  // A Hann window, so that what is left of a period at the ends does not count.
  const power = out.reduce((sum, x, i) => sum + x * x * (1 - Math.cos((2 * Math.PI * i) / count)), 0) / count;
  return 10 * Math.log10(Math.max(power * 2, 1e-30));
}

describe('change of sample rate', () => {
  it.each([
    [44_100, 48_000],
    [22_050, 48_000],
    [96_000, 48_000],
    [48_000, 44_100],
    [37_123, 48_000],
  ])('%i → %i Hz: flat in the pass-band, under −95 dB in the stop-band', (from, to) => {
    const lower = Math.min(from, to);
    for (const part of [0.01, 0.1, 0.25, 0.4, 0.45])
      expect(Math.abs(throughLevel(from, to, part * lower))).toBeLessThan(0.01);
    if (from > to)
      for (const part of [0.5, 0.52, 0.6])
        if (part * to < from / 2) expect(throughLevel(from, to, part * to)).toBeLessThan(-95);
  });

  it('is the same by the kernel and in plain arithmetic, under −120 dB, from any place on', () => {
    const rates = fc.constantFrom([44_100, 48_000], [48_000, 16_000], [96_000, 44_100], [8_000, 48_000]);
    fc.assert(
      fc.property(rates, fc.nat(100_000), fc.integer({ min: 1, max: 700 }), ([from, to], outStart, count) => {
        const converter = new RateConverter(from!, to!);
        const input = noise(converter.inputCount(outStart, count), 1, count);
        const plain = converter.convert(input, outStart, count, false);
        converter.convert(input, outStart, count).forEach((x, i) => {
          expect(Math.abs(x - plain[i]!)).toBeLessThan(1e-6);
        });
      }),
      { numRuns: 40 },
    );
  });

  it('images of the lower rate are under −95 dB', () => {
    const converter = new RateConverter(22_050, 48_000);
    const hz = 9_000;
    const inStart = converter.inputStart(0);
    const input = Float32Array.from({ length: converter.inputCount(0, 24_000) }, (_, i) =>
      Math.sin((2 * Math.PI * hz * (inStart + i)) / 22_050),
    );
    const out = converter.convert(input, 0, 24_000);
    // The image of 9,000 Hz lies at 22,050 − 9,000 = 13,050 Hz; both make whole periods in half a second.
    const level = (f: number): number => {
      let re = 0;
      let im = 0;
      out.forEach((x, i) => {
        re += x * Math.cos((2 * Math.PI * f * i) / 48_000);
        im += x * Math.sin((2 * Math.PI * f * i) / 48_000);
      });
      return 20 * Math.log10((2 * Math.hypot(re, im)) / out.length);
    };
    expect(Math.abs(level(9_000))).toBeLessThan(0.001);
    expect(level(13_050)).toBeLessThan(-95);
  });

  it('any range fits its neighbours to the bit', () => {
    const converter = new RateConverter(44_100, 48_000);
    const sound = noise(6000, 1);
    const get = (start: number, count: number): Float32Array =>
      Float32Array.from({ length: count }, (_, i) => sound[start + i] ?? 0);
    const run = (start: number, count: number): Float32Array =>
      converter.convert(get(converter.inputStart(start), converter.inputCount(start, count)), start, count);
    const whole = run(0, 6500);
    fc.assert(
      fc.property(fc.nat(6400), fc.integer({ min: 1, max: 100 }), (start, count) => {
        expect(run(start, count)).toEqual(whole.slice(start, start + count));
      }),
    );
  });

  it('keeps loudness: the same tone measures alike at either rate', () => {
    const converter = new RateConverter(44_100, 48_000);
    const [x] = tones([{ dbfs: -20, seconds: 3 }], 44_100, 1);
    const padded = new Float32Array(converter.inputCount(0, 144_000));
    padded.set(x!.subarray(0, padded.length + converter.inputStart(0)), -converter.inputStart(0));
    const measure = (samples: Float32Array, rate: number): number => {
      const meter = new LoudnessMeter(MONO, rate);
      meter.push([samples]);
      return figuresOf(meter.finish()).integratedLufs!;
    };
    expect(measure(converter.convert(padded, 0, 144_000), 48_000)).toBeCloseTo(measure(x!, 44_100), 2);
  });
});

describe('laying a source into a programme', () => {
  const loudness = (layout: Layout, channels: Float32Array[]): number => {
    const meter = new LoudnessMeter(layout, 48_000);
    meter.push(channels);
    return figuresOf(meter.finish()).integratedLufs!;
  };

  const laid = (x: Float32Array, from: Layout, to: Layout): Float32Array[] => {
    const mixer = newMixer(to.labels.length, x.length);
    mixer.add([x], 0, mixMatrix(from, to), 1);
    return mixer.finish();
  };

  it('mono is as loud in a stereo or 5.1 programme as by itself', () => {
    const [x] = tones([{ dbfs: -20, seconds: 2 }], 48_000, 1);
    const alone = loudness(MONO, [x!]);
    for (const layout of [STEREO, SURROUND_5_1]) {
      expect(loudness(layout, laid(x!, MONO, layout))).toBeCloseTo(alone, 5);
    }
  });

  it('equal layouts pass through untouched', () => {
    for (const layout of [MONO, STEREO, SURROUND_5_1])
      expect(isIdentity(mixMatrix(layout, layout))).toBe(true);
    expect(isIdentity(mixMatrix(MONO, STEREO))).toBe(false);
  });

  it('5.1 folds to stereo by BS.775, the LFE left out', () => {
    const h = Math.SQRT1_2;
    expect(mixMatrix(SURROUND_5_1, STEREO)).toEqual([
      [1, 0, h, 0, h, 0],
      [0, 1, h, 0, 0, h],
    ]);
  });

  const mirrored = (label: string): string => label.replace(/L|R/, (side) => (side === 'L' ? 'R' : 'L'));

  it.each(DECLARABLE.map((layout) => [layout.name, layout] as const))(
    '%s: every channel but the LFE is heard in every programme, and left is to right as right to left',
    (_name, from) => {
      for (const to of [MONO, STEREO, SURROUND_5_1]) {
        const matrix = mixMatrix(from, to);
        from.labels.forEach((label, channel) => {
          const heard = matrix.reduce((sum, row) => sum + row[channel]! ** 2, 0);
          if (/^LFE/.test(label)) {
            if (to !== SURROUND_5_1) expect(heard).toBe(0);
            return;
          }
          expect(heard).toBeGreaterThan(0.2);
          const mirror = from.labels.indexOf(mirrored(label));
          if (mirror < 0 || to === MONO) return;
          to.labels.forEach((speaker, row) => {
            const other = to.labels.indexOf(mirrored(speaker));
            expect(matrix[row]![channel]).toBe(matrix[other < 0 ? row : other]![mirror]);
          });
        });
      }
    },
  );

  it('wider layouts fold to the loudspeakers that stand nearest', () => {
    const seven = layoutFor(8);
    const at = (to: Layout, label: string) =>
      Object.fromEntries(
        to.labels.flatMap((speaker, row) => {
          const gain = mixMatrix(seven, to)[row]![seven.labels.indexOf(label)]!;
          return gain === 0 ? [] : [[speaker, gain]];
        }),
      );
    expect(at(SURROUND_5_1, 'Lrs')).toEqual({ Ls: 1 });
    expect(at(SURROUND_5_1, 'Rss')).toEqual({ Rs: 1 });
    expect(at(SURROUND_5_1, 'LFE')).toEqual({ LFE: 1 });
    expect(at(STEREO, 'Lss')).toEqual({ L: Math.SQRT1_2 });
    expect(at(STEREO, 'C')).toEqual({ L: Math.SQRT1_2, R: Math.SQRT1_2 });
  });

  it('mono meant for two loudspeakers is 3.01 dB more than mono, as its measurement says', () => {
    const [x] = tones([{ dbfs: -20, seconds: 2 }], 48_000, 1);
    const out = laid(x!, DUAL_MONO, STEREO);
    expect(out[0]![1234]).toBe(x![1234]);
    expect(loudness(STEREO, out)).toBeCloseTo(loudness(DUAL_MONO, [x!]), 6);
  });

  it('a channel mask decides over the number of channels', () => {
    expect(layoutFor(4, 0x107).labels).toEqual(['L', 'R', 'C', 'Cs']);
    expect(layoutFor(6, 0x60f)).toBe(SURROUND_5_1);
    expect(layoutFor(6, 0x3)).toBe(SURROUND_5_1);
    expect(layoutFor(8, 0x63f).labels).toEqual(['L', 'R', 'C', 'LFE', 'Lrs', 'Rrs', 'Lss', 'Rss']);
  });

  it('weights follow the place of the loudspeaker (BS.1770-5, Annex 3)', () => {
    const weight = (layout: Layout, label: string) => layout.weights[layout.labels.indexOf(label)];
    const seven = layoutFor(8);
    expect([weight(seven, 'Lss'), weight(seven, 'Lrs'), weight(seven, 'LFE')]).toEqual([1.41, 1, 0]);
    expect(layoutFor(12).weights.slice(8)).toEqual([1, 1, 1, 1]);
    const large = layoutFor(24);
    expect(['FL', 'SiR', 'BL', 'FLc', 'TpSiL', 'LFE2'].map((label) => weight(large, label))).toEqual([
      1.41, 1.41, 1, 1, 1, 0,
    ]);
    expect(layoutFor(7).weights).toEqual(Array.from({ length: 7 }, () => 1));
    expect(declaredLayout('dual-mono', 1)!.weights).toEqual([2]);
    expect(declaredLayout('5.1', 2)).toBeNull();
  });
});

describe('waveform overview', () => {
  it('never loses an extreme, at any level and however it is cut', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 20_000 }),
        fc.integer({ min: 1, max: 5000 }),
        fc.nat(),
        (frames, cut, seed) => {
          const channels = [noise(frames, 0.9, seed), noise(frames, 0.3, seed + 1)];
          channels[0]![seed % frames] = 1.7;
          const builder = new OverviewBuilder();
          const meter = new LoudnessMeter(STEREO, 8_000, { listeners: [builder] });
          for (let at = 0; at < frames; at += cut)
            meter.push(channels.map((channel) => channel.subarray(at, at + cut)));
          meter.finish();
          const overview = joinOverview([builder.part()], frames);
          for (const level of overview.levels) {
            const bin = Math.floor((seed % frames) / level.framesPerBin);
            expect(level.high[bin]).toBeCloseTo(1.7, 6);
            expect(level.high.length).toBe(Math.ceil(frames / level.framesPerBin));
          }
          const low = Math.min(...channels.flatMap((channel) => [...channel]));
          expect(Math.min(...overview.levels[3]!.low)).toBe(Math.min(0, low));
        },
      ),
      { numRuns: 40 },
    );
  });

  it('of hours of sound goes without the finest level, so that it stays small', () => {
    const { levels } = joinOverview([], 4 * 3600 * 48_000);
    expect(levels[0]!.framesPerBin).toBe(2048);
    expect(levels[0]!.low).toHaveLength((4 * 3600 * 48_000) / 2048);
  });

  it('chooses the coarsest level that still shows every pixel', () => {
    const overview = joinOverview([], 1_000_000);
    expect(levelFor(overview, 10).framesPerBin).toBe(256);
    expect(levelFor(overview, 2048).framesPerBin).toBe(2048);
    expect(levelFor(overview, 1e9).framesPerBin).toBe(256 * 8 ** 3);
  });
});

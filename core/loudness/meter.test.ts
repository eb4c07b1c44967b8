import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MONO, STEREO, SURROUND_5_1 } from '@/core/audio/layout';
import { bruteFigures, bruteTruePeak } from '@/core/testing/bruteForce';
import { noise, tones } from '@/core/testing/signals';
import { figuresAfterGain, figuresOf } from './figures';
import { LoudnessMeter } from './meter';
import { completeSubBlocks, subBlockAt, subBlockCount, subBlockStart, weightedEnergy } from './subBlocks';

function speechLike(seconds: number, seed: number): Float32Array {
  const x = noise(seconds * 48_000, 1, seed);
  let low = 0;
  for (let i = 0; i < x.length; i++) {
    low += 0.08 * (x[i]! - low);
    const syllable = Math.max(0, Math.sin(i / 9000)) * Math.max(0.02, Math.sin(i / 130_000 + seed));
    x[i] = low * syllable;
  }
  return x;
}

describe('against figures worked out the long way', () => {
  it('agrees to 0.001 LU in mono, stereo and 5.1', () => {
    for (const layout of [MONO, STEREO, SURROUND_5_1]) {
      const channels = layout.labels.map((_, c) => speechLike(14, c + 3));
      const meter = new LoudnessMeter(layout, 48_000);
      meter.push(channels);
      const ours = figuresOf(meter.finish());
      const brute = bruteFigures(channels, layout);
      expect(Math.abs(ours.integratedLufs! - brute.integrated!)).toBeLessThan(0.001);
      expect(Math.abs(ours.maxMomentaryLufs! - brute.maxMomentary)).toBeLessThan(0.001);
      expect(Math.abs(ours.maxShortTermLufs! - brute.maxShortTerm)).toBeLessThan(0.001);
      expect(Math.abs(ours.loudnessRangeLu! - brute.range)).toBeLessThan(0.001);
    }
  });

  it('true peak is that of the full filter, though most of it is left out', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 4000 }),
        fc.integer(),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (length, seed, mix) => {
          const x = noise(length, 0.7, seed);
          for (let i = 0; i < length; i++) x[i] = x[i]! * mix + (1 - mix) * Math.sin(i * 0.31);
          const meter = new LoudnessMeter(MONO, 48_000);
          meter.push([x]);
          const history = meter.finish();
          expect(Math.max(...history.truePeak[0]!)).toBeCloseTo(bruteTruePeak(x), 6);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('streaming', () => {
  it('gives the same history however the signal is cut', () => {
    const channels = [speechLike(3, 1), speechLike(3, 2)];
    const whole = new LoudnessMeter(STEREO, 44_100);
    whole.push(channels);
    const expected = whole.finish();
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 30_000 }), { minLength: 1, maxLength: 12 }), (cuts) => {
        const meter = new LoudnessMeter(STEREO, 44_100);
        let at = 0;
        for (let turn = 0; at < channels[0]!.length; turn++) {
          const end = Math.min(channels[0]!.length, at + cuts[turn % cuts.length]!);
          meter.push(channels.map((channel) => channel.subarray(at, end)));
          at = end;
        }
        const history = meter.finish();
        expect(history.frames).toBe(expected.frames);
        expect(history.samplePeak).toEqual(expected.samplePeak);
        history.truePeak.forEach((peaks, c) => {
          for (let k = 0; k < peaks.length; k++) expect(peaks[k]).toBeCloseTo(expected.truePeak[c]![k]!, 7);
        });
        history.energy.forEach((energy, c) => {
          for (let k = 0; k < energy.length; k++) expect(energy[k]).toBeCloseTo(expected.energy[c]![k]!, 9);
        });
      }),
      { numRuns: 12 },
    );
  });

  it('refuses another number of channels', () => {
    expect(() => new LoudnessMeter(STEREO, 48_000).push([new Float32Array(10)])).toThrow(
      /1 channels given, 2 expected/,
    );
  });
});

describe('nothing to measure is null', () => {
  const figures = (x: Float32Array) => {
    const meter = new LoudnessMeter(MONO, 48_000);
    meter.push([x]);
    return figuresOf(meter.finish());
  };

  it('silence', () => {
    expect(figures(new Float32Array(480_000))).toMatchObject({
      integratedLufs: null,
      relativeGateLufs: null,
      maxMomentaryLufs: null,
      maxShortTermLufs: null,
      loudnessRangeLu: null,
      truePeakDbtp: null,
      samplePeakDbfs: null,
    });
  });

  it('no frames at all', () => {
    expect(figures(new Float32Array(0)).integratedLufs).toBeNull();
  });

  it('shorter than a block: peaks only', () => {
    const found = figures(noise(19_000, 0.5));
    expect(found.integratedLufs).toBeNull();
    expect(found.maxMomentaryLufs).toBeNull();
    expect(found.samplePeakDbfs).toBeLessThan(-6);
  });

  it('one block, but no 3 s: integrated and no short-term', () => {
    const found = figures(tones([{ dbfs: -20, seconds: 1 }], 48_000, 1)[0]!);
    expect(found.integratedLufs).not.toBeNull();
    expect(found.maxShortTermLufs).toBeNull();
    expect(found.loudnessRangeLu).toBeNull();
  });
});

describe('gain on the figures', () => {
  it('is the same as gain on the samples', () => {
    const x = speechLike(6, 5);
    const louder = x.map((value) => value * 4);
    const figuresFor = (samples: Float32Array, gainDb: number) => {
      const meter = new LoudnessMeter(MONO, 48_000);
      meter.push([samples]);
      const kept = meter.finish();
      const energy = weightedEnergy(kept);
      return figuresAfterGain({ figures: figuresOf(kept), energy, sampleRate: 48_000 }, gainDb);
    };
    const a = figuresFor(x, 20 * Math.log10(4));
    const b = figuresFor(louder, 0);
    for (const key of [
      'integratedLufs',
      'maxMomentaryLufs',
      'maxShortTermLufs',
      'loudnessRangeLu',
      'truePeakDbtp',
    ] as const) {
      expect(a[key]).toBeCloseTo(b[key]!, 5);
    }
  });
});

describe('the sub-block grid', () => {
  it('covers every frame once at any rate', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 8_000, max: 384_000 }),
        fc.integer({ min: 1, max: 3_000_000 }),
        (rate, frames) => {
          const count = subBlockCount(frames, rate);
          expect(subBlockStart(count - 1, rate)).toBeLessThan(frames);
          expect(subBlockStart(count, rate)).toBeGreaterThanOrEqual(frames);
          const k = subBlockAt(frames - 1, rate);
          expect(k).toBe(count - 1);
          expect(subBlockStart(completeSubBlocks(frames, rate), rate)).toBeLessThanOrEqual(frames);
        },
      ),
    );
  });
});

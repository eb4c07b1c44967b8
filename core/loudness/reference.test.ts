import { describe, expect, it } from 'vitest';
import { layoutFor, MONO, STEREO, SURROUND_5_0, SURROUND_5_1, type Layout } from '@/core/audio/layout';
import { tones, type Tone } from '@/core/testing/signals';
import { meanSquareToLufs } from './decibels';
import { figuresOf } from './figures';
import { LoudnessMeter } from './meter';
import { weightedEnergy, type SubBlockHistory } from './subBlocks';
import { momentaryWindows, shortTermWindows } from './windows';

const RATES = [8_000, 11_025, 22_050, 44_100, 48_000, 96_000, 192_000, 384_000];

function measure(
  channels: Float32Array[],
  rate: number,
  layout: Layout = layoutFor(channels.length),
): SubBlockHistory {
  const meter = new LoudnessMeter(layout, rate);
  meter.push(channels);
  return meter.finish();
}

const tone = (dbfs: number | number[], seconds: number): Tone => ({ dbfs, seconds });
const repeat = (parts: Tone[], times: number): Tone[] => Array.from({ length: times }, () => parts).flat();
const integratedOf = (parts: Tone[], rate: number): number =>
  figuresOf(measure(tones(parts, rate), rate)).integratedLufs!;

function expectWithin(value: number | null, expected: number, below: number, above = below): void {
  expect(value).not.toBeNull();
  expect(value!).toBeGreaterThanOrEqual(expected - below);
  expect(value!).toBeLessThanOrEqual(expected + above);
}

describe.each(RATES)('EBU Tech 3341 minimum requirements at %i Hz', (rate) => {
  it.each([
    ['case 1', -23],
    ['case 2', -33],
  ])('%s: steady tone reads the same on every scale', (_name, level) => {
    const figures = figuresOf(measure(tones([tone(level, 20)], rate), rate));
    expectWithin(figures.integratedLufs, level, 0.1);
    expectWithin(figures.maxMomentaryLufs, level, 0.1);
    expectWithin(figures.maxShortTermLufs, level, 0.1);
  });

  it('case 3: the relative gate leaves out what is quiet', () => {
    expectWithin(integratedOf([tone(-36, 10), tone(-23, 60), tone(-36, 10)], rate), -23, 0.1);
  });

  it('case 4: the absolute gate comes first', () => {
    const parts = [tone(-72, 10), tone(-36, 10), tone(-23, 60), tone(-36, 10), tone(-72, 10)];
    expectWithin(integratedOf(parts, rate), -23, 0.1);
  });

  it('case 5: what the gate lets through counts by its energy', () => {
    expectWithin(integratedOf([tone(-26, 20), tone(-20, 20.1), tone(-26, 20)], rate), -23, 0.1);
  });

  it('case 6: surround channels weigh more', () => {
    const channels = tones([tone([-28, -28, -24, -30, -30], 20)], rate, 5);
    expectWithin(figuresOf(measure(channels, rate, SURROUND_5_0)).integratedLufs, -23, 0.1);
  });

  it('case 6 with an LFE channel: it is left out', () => {
    const channels = tones([tone([-28, -28, -24, 0, -30, -30], 20)], rate, 6);
    expectWithin(figuresOf(measure(channels, rate, SURROUND_5_1)).integratedLufs, -23, 0.1);
  });

  it('case 9: short-term stays constant once its window is full', () => {
    const history = measure(tones(repeat([tone(-20, 1.34), tone(-30, 1.66)], 5), rate), rate);
    for (const z of shortTermWindows(weightedEnergy(history), rate))
      expectWithin(meanSquareToLufs(z), -23, 0.1);
  });

  it('case 10: max short-term of a 3 s tone, wherever it begins', () => {
    for (let i = 0; i < 20; i++) {
      const figures = figuresOf(
        measure(tones([tone(-Infinity, i * 0.15), tone(-23, 3), tone(-Infinity, 1)], rate), rate),
      );
      expectWithin(figures.maxShortTermLufs, -23, 0.1);
    }
  });

  it('case 12: momentary stays constant once its window is full', () => {
    const history = measure(tones(repeat([tone(-20, 0.18), tone(-30, 0.22)], 25), rate), rate);
    for (const z of momentaryWindows(weightedEnergy(history), rate))
      expectWithin(meanSquareToLufs(z), -23, 0.1);
  });

  it('case 13: max momentary of a 0.4 s tone, wherever it begins', () => {
    for (let i = 0; i < 20; i++) {
      const figures = figuresOf(
        measure(tones([tone(-Infinity, i * 0.02), tone(-23, 0.4), tone(-Infinity, 1)], rate), rate),
      );
      expectWithin(figures.maxMomentaryLufs, -23, 0.1);
    }
  });

  it.each([
    ['case 15', 4, 0, 0.5, -6],
    ['case 16', 4, 45, 0.5, -6],
    ['case 17', 6, 60, 0.5, -6],
    ['case 18', 8, 67.5, 0.5, -6],
    ['case 19', 4, 45, 1.41, 3],
  ])('%s: true peak of a sine at fs/%i and %f°', (_name, divisor, degrees, amplitude, expected) => {
    const phase = (degrees * Math.PI) / 180;
    const x = Float32Array.from(
      { length: rate },
      (_, i) => amplitude * Math.sin((2 * Math.PI * i) / divisor + phase),
    );
    // The signals fade in and out, as a tone cut off hard has a higher true peak of its own.
    for (let i = 0; i < rate / 10; i++) {
      const fade = 0.5 - 0.5 * Math.cos((Math.PI * i) / (rate / 10));
      x[i]! *= fade;
      x[x.length - 1 - i]! *= fade;
    }
    expectWithin(figuresOf(measure([x, x], rate)).truePeakDbtp, expected, 0.4, 0.2);
  });
});

describe.each(RATES)('EBU Tech 3342 minimum requirements at %i Hz', (rate) => {
  it.each([
    ['case 1', [-20, -30], 10],
    ['case 2', [-20, -15], 5],
    ['case 3', [-40, -20], 20],
    ['case 4', [-50, -35, -20, -35, -50], 15],
  ])('%s', (_name, levels, expected) => {
    const parts = levels.map((level) => tone(level, 20));
    expectWithin(figuresOf(measure(tones(parts, rate), rate)).loudnessRangeLu, expected, 1);
  });
});

describe('levels of the standard itself', () => {
  it('a 997 Hz sine at 0 dBFS in one front channel reads −3.01 LKFS (BS.1770-5, Annex 1)', () => {
    for (const rate of RATES) {
      const [x] = tones([tone(0, 5)], rate, 1, 997);
      expectWithin(figuresOf(measure([x!], rate, MONO)).integratedLufs, -3.01, 0.02);
    }
  });

  it('the same sine in both channels reads 3.01 LU more', () => {
    const [x] = tones([tone(-10, 5)], 48_000, 1, 997);
    const one = figuresOf(measure([x!], 48_000, MONO)).integratedLufs!;
    const two = figuresOf(measure([x!, x!], 48_000, STEREO)).integratedLufs!;
    expect(two - one).toBeCloseTo(10 * Math.log10(2), 6);
  });
});

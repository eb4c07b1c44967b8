import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memoryReader, noise, tones } from '@/core/testing/signals';
import {
  integratedWithin,
  loudnessDistribution,
  loudnessSeries,
  mergeRanges,
  partFigures,
  type TimeRange,
} from './levelTrack';
import { measureReader } from './measureReader';
import { soundMeasurement, type SoundMeasurement } from './sound';

const RATE = 48_000;

async function soundOf(channels: Float32Array[], rate = RATE): Promise<SoundMeasurement> {
  return soundMeasurement((await measureReader(memoryReader(channels, rate), () => true))!);
}

const levels = (...parts: [dbfs: number, seconds: number][]): Float32Array[] =>
  tones(
    parts.map(([dbfs, seconds]) => ({ dbfs, seconds })),
    RATE,
  );

describe('a part of a sound', () => {
  it('measures as if it had been cut out, but for what the filters carry over its edge', async () => {
    // Within 10 LU, so that no block is let through in one case and gated in the other for a hair's breadth.
    const x = noise(24 * RATE, 0.3, 5).map((v, i) => v * (0.6 + 0.6 * Math.abs(Math.sin(i / 31_000))));
    const whole = await soundOf([x]);
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: 150 }),
        fc.integer({ min: 5, max: 80 }),
        async (start, length) => {
          const [from, to] = [start / 10, (start + length) / 10];
          const part = partFigures(whole, { from, to });
          const cut = await soundOf([x.slice(Math.round(from * RATE), Math.round(to * RATE))]);
          for (const key of [
            'integratedLufs',
            'maxMomentaryLufs',
            'maxShortTermLufs',
            'loudnessRangeLu',
          ] as const) {
            if (cut.figures[key] === null) expect(part[key]).toBeNull();
            else expect(Math.abs(part[key]! - cut.figures[key])).toBeLessThan(0.05);
          }
          // A hard cut rings, so only bounds hold for the true peak.
          expect(part.truePeakDbtp!).toBeGreaterThanOrEqual(cut.figures.samplePeakDbfs! - 1e-6);
          expect(part.truePeakDbtp!).toBeLessThanOrEqual(whole.figures.truePeakDbtp! + 1e-6);
        },
      ),
      { numRuns: 8 },
    );
  });

  it('the whole is the whole', async () => {
    const sound = await soundOf(levels([-30, 4], [-20, 4]));
    const { integratedLufs, truePeakDbtp, loudnessRangeLu } = sound.figures;
    expect(partFigures(sound, { from: 0, to: 8 })).toMatchObject({
      integratedLufs,
      truePeakDbtp,
      loudnessRangeLu,
    });
  });

  it('under 400 ms there is nothing to integrate', async () => {
    const sound = await soundOf(levels([-20, 4]));
    expect(partFigures(sound, { from: 1, to: 1.3 })).toMatchObject({
      integratedLufs: null,
      loudnessRangeLu: null,
    });
  });
});

describe('loudness while somebody speaks', () => {
  it('is that of the ranges alone', async () => {
    const sound = await soundOf(levels([-40, 5], [-24, 5], [-14, 5], [-26, 5]));
    const only = (...ranges: TimeRange[]) => integratedWithin(sound, ranges);
    expect(only({ from: 5.4, to: 9.6 }).integratedLufs).toBeCloseTo(-24, 1);
    const both = only({ from: 5.4, to: 9.6 }, { from: 15.4, to: 19.6 });
    const mean = 10 * Math.log10((10 ** -2.4 + 10 ** -2.6) / 2);
    expect(both.integratedLufs).toBeCloseTo(mean, 1);
    expect(both.seconds).toBeCloseTo(8.4, 9);
  });

  it('over the whole equals the integrated loudness; over nothing there is none', async () => {
    const sound = await soundOf(levels([-40, 5], [-24, 5]));
    expect(integratedWithin(sound, [{ from: -3, to: 99 }]).integratedLufs).toBeCloseTo(
      sound.figures.integratedLufs!,
      9,
    );
    expect(integratedWithin(sound, [{ from: 2, to: 2.3 }])).toMatchObject({ integratedLufs: null });
    expect(integratedWithin(sound, [])).toEqual({ integratedLufs: null, relativeGateLufs: null, seconds: 0 });
  });

  it('blocks are those a brute search would choose', async () => {
    const sound = await soundOf([noise(12 * RATE, 0.2, 9).map((v, i) => v * Math.abs(Math.sin(i / 50_000)))]);
    const range = fc.tuple(fc.integer({ min: 0, max: 600 }), fc.integer({ min: 1, max: 300 }));
    fc.assert(
      fc.property(fc.array(range, { minLength: 1, maxLength: 4 }), (spans) => {
        const ranges = spans.map(([at, length]) => ({ from: at / 50, to: (at + length) / 50 }));
        const merged = mergeRanges(ranges);
        // Blocks every 100 ms; one counts when some merged range holds all of its twenty sub-blocks.
        const chosen: number[] = [];
        for (let k = 0; k + 20 <= sound.energy.length; k += 5) {
          const inside = merged.some(({ from, to }) => from * 50 <= k + 1e-9 && k + 20 <= to * 50 + 1e-9);
          if (inside) chosen.push(sound.energy.slice(k, k + 20).reduce((a, b) => a + b, 0) / (0.4 * RATE));
        }
        const mean = (list: number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
        const lufs = (z: number): number => -0.691 + 10 * Math.log10(z);
        const audible = chosen.filter((z) => lufs(z) > -70);
        const gated = audible.filter((z) => lufs(z) > Math.max(-70, lufs(mean(audible)) - 10));
        const found = integratedWithin(sound, ranges).integratedLufs;
        if (gated.length === 0) expect(found).toBeNull();
        else expect(found).toBeCloseTo(lufs(mean(gated)), 9);
      }),
    );
  });
});

describe('ranges', () => {
  it('are sorted, joined where they touch, and cover the same', () => {
    const span = fc.tuple(fc.nat(50), fc.integer({ min: -3, max: 20 }));
    fc.assert(
      fc.property(fc.array(span), (spans) => {
        const ranges = spans.map(([from, length]) => ({ from, to: from + length }));
        const merged = mergeRanges(ranges);
        for (let i = 1; i < merged.length; i++) expect(merged[i]!.from).toBeGreaterThan(merged[i - 1]!.to);
        for (let t = 0.5; t < 75; t++) {
          const inside = (list: readonly TimeRange[]): boolean =>
            list.some(({ from, to }) => from < t && t < to);
          expect(inside(merged)).toBe(inside(ranges));
        }
      }),
    );
  });
});

describe('loudness over time', () => {
  it('has a value every 100 ms for every full window', async () => {
    const { momentaryLufs, shortTermLufs } = loudnessSeries(await soundOf(levels([-23, 5])));
    expect(momentaryLufs).toHaveLength(47);
    expect(shortTermLufs).toHaveLength(21);
    for (const lufs of [...momentaryLufs.slice(1), ...shortTermLufs.slice(1)])
      expect(lufs).toBeCloseTo(-23, 1);
  });

  it('is null in silence', async () => {
    const { momentaryLufs } = loudnessSeries(await soundOf([new Float32Array(RATE)]));
    expect(new Set(momentaryLufs)).toEqual(new Set([null]));
  });

  it('the distribution tells how long each loudness lasts, and adds up', async () => {
    const sound = await soundOf(levels([-30.5, 10], [-120, 6], [-20.5, 20]));
    const { lowestLufs, seconds, underGateSeconds } = loudnessDistribution(sound);
    const at = (lufs: number): number => seconds[Math.floor(lufs - lowestLufs)]!;
    expect(at(-20.5)).toBeGreaterThan(16);
    expect(at(-30.5)).toBeGreaterThan(6);
    expect(underGateSeconds).toBeGreaterThan(2);
    const windows = Math.ceil((sound.energy.length - 149) / 5);
    expect(seconds.reduce((a, b) => a + b, underGateSeconds)).toBeCloseTo(windows / 10, 6);
  });
});

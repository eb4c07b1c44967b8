import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memoryReader, noise, tones } from '@/core/testing/signals';
import { detailsOf, noiseFloor } from './details';
import { figuresOf } from './figures';
import {
  joinSlices,
  measureReader,
  measureSlice,
  slices,
  type ReaderMeasurement,
  type SliceMeasurement,
} from './measureReader';
import { peakBlockCount } from './subBlocks';

const always = (): boolean => true;

/** Loud and soft passages, clipping and digital silence, wherever a cut may fall. */
function rough(frames: number, seed: number): Float32Array {
  const x = noise(frames, 1.1, seed);
  for (let i = 0; i < frames; i++) {
    const part = Math.floor((i + seed * 37) / 2111) % 5;
    x[i] =
      part === 0
        ? 0
        : part === 1
          ? Math.max(-1, Math.min(1, 2 * x[i]!))
          : x[i]! * 0.2 * Math.sin(i / 5000) ** 2;
  }
  return x;
}

describe('a sound measured in slices', () => {
  it('is the same as in one pass, wherever it is cut', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(8_000, 11_025, 48_000),
        fc.integer({ min: 4_000, max: 100_000 }),
        fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 3 }),
        fc.nat(500),
        async (rate, frames, cuts, seed) => {
          const reader = memoryReader([rough(frames, seed), rough(frames, seed + 1)], rate);
          const whole = (await measureReader(reader, always))!;
          const blocks = peakBlockCount(frames, rate);
          const edges = [...new Set([0, ...cuts.map((cut) => Math.floor(cut * blocks)), blocks])].sort(
            (a, b) => a - b,
          );
          const parts: SliceMeasurement[] = [];
          for (let i = 1; i < edges.length; i++)
            parts.push((await measureSlice(reader, edges[i - 1]!, edges[i]!, always))!);
          const joined = joinSlices(parts, reader.format);
          const [a, b] = [figuresOf(joined.history), figuresOf(whole.history)];
          for (const key of [
            'integratedLufs',
            'maxMomentaryLufs',
            'maxShortTermLufs',
            'loudnessRangeLu',
          ] as const) {
            if (b[key] === null) expect(a[key]).toBeNull();
            else expect(Math.abs(a[key]! - b[key])).toBeLessThan(1e-9);
          }
          expect(joined.history.samplePeak).toEqual(whole.history.samplePeak);
          joined.history.truePeak.forEach((peaks, c) =>
            peaks.forEach((peak, k) => expect(peak).toBeCloseTo(whole.history.truePeak[c]![k]!, 6)),
          );
          expect(joined.overview).toEqual(whole.overview);
          for (const key of ['clippedSamples', 'clippedRuns', 'clippedRunCount', 'samplePeaks'] as const)
            expect(joined.scan[key]).toEqual(whole.scan[key]);
          expect(joined.scan.zeroRuns.map(({ channel, start, length }) => [channel, start, length])).toEqual(
            whole.scan.zeroRuns.map(({ channel, start, length }) => [channel, start, length]),
          );
        },
      ),
      { numRuns: 40 },
    );
  });

  it('is cut evenly, and not at all when it is short', () => {
    expect(slices(48_000 * 60, 48_000, 3)).toEqual([0, 200, 400, 600]);
    expect(slices(48_000 * 12, 48_000, 4)).toEqual([0, 120]);
    expect(slices(0, 48_000, 4)).toEqual([0, 0]);
  });

  it('stops when asked', async () => {
    const reader = memoryReader([noise(480_000, 0.1)], 48_000);
    expect(await measureReader(reader, () => false)).toBeNull();
  });
});

async function details(channels: Float32Array[], rate = 48_000) {
  const measured: ReaderMeasurement = (await measureReader(memoryReader(channels, rate), always))!;
  return { ...detailsOf(measured), figures: figuresOf(measured.history) };
}

describe('details of a sound', () => {
  it('clipping: which samples, where, how many', async () => {
    const x = noise(96_000, 0.3);
    x.fill(1, 50_000, 50_007);
    x.fill(-1, 50_007, 50_011);
    x.fill(1, 60_000, 60_002);
    const found = await details([x, noise(96_000, 0.3, 5)]);
    expect(found.clippedSamples).toBe(13);
    expect(found.clippedRunCount).toBe(1);
    expect(found.clippedRuns).toEqual([
      { channel: 'L', startSeconds: 50_000 / 48_000, lengthSeconds: 11 / 48_000 },
    ]);
  });

  it('digital silence is what all channels share; a drop-out may be in one', async () => {
    const [l, r] = [noise(192_000, 0.3, 3), noise(192_000, 0.3, 4)];
    l.fill(0, 20_000, 60_000);
    r.fill(0, 30_000, 70_000);
    l.fill(0, 100_000, 100_480);
    const found = await details([l, r]);
    expect(found.digitalSilence).toEqual([{ startSeconds: 30_000 / 48_000, lengthSeconds: 30_000 / 48_000 }]);
    expect(found.dropOuts).toEqual([{ channel: 'L', startSeconds: 100_000 / 48_000, lengthSeconds: 0.01 }]);
  });

  it('a fade into silence is no drop-out', async () => {
    const x = noise(96_000, 0.3);
    for (let i = 0; i < 10_000; i++) {
      x[30_000 + i]! *= (1 - i / 10_000) ** 4;
      x[45_000 + i]! *= (i / 10_000) ** 4;
    }
    x.fill(0, 40_000, 45_000);
    expect((await details([x])).dropOuts).toEqual([]);
  });

  it('offset and correlation', async () => {
    const x = noise(480_000, 0.2).map((value) => value + 0.05);
    const y = noise(480_000, 0.2, 9);
    expect((await details([x])).dcOffset[0]).toBeCloseTo(0.05, 3);
    expect((await details([x])).correlation).toBeNull();
    expect((await details([y, y])).correlation).toBeCloseTo(1, 6);
    expect((await details([y, y.map((value) => -value)])).correlation).toBeCloseTo(-1, 6);
    expect(Math.abs((await details([noise(480_000, 0.2, 11), y])).correlation!)).toBeLessThan(0.01);
  });

  it('places of the largest values', async () => {
    const [x] = tones(
      [
        { dbfs: -40, seconds: 10 },
        { dbfs: -10, seconds: 3 },
        { dbfs: -40, seconds: 10 },
      ],
      48_000,
      1,
    );
    x![900_000] = 0.9;
    const { positions } = await details([x!]);
    expect(positions.maxShortTerm).toBeCloseTo(10, 1);
    expect(positions.maxMomentary).toBeGreaterThanOrEqual(9.9);
    expect(positions.maxMomentary).toBeLessThanOrEqual(12.7);
    expect(positions.samplePeak).toBe(900_000 / 48_000);
    expect(Math.abs(positions.truePeak! - 900_006 / 48_000)).toBeLessThan(7 / 48_000);
  });

  it('noise floor: what lies under a voice that pauses', async () => {
    const x = noise(480_000, 0.001);
    const floor = (await details([x])).figures.integratedLufs;
    for (let i = 0; i < x.length; i++) if (Math.floor(i / 48_000) % 2 === 0) x[i]! += 0.2 * Math.sin(i / 8);
    const found = await details([x]);
    // With the voice −20 dBFS and the noise some 45 dB under it, the pauses decide.
    expect(floor === null || Math.abs(found.noiseFloorLufs! - floor) < 0.5).toBe(true);
    expect(found.figures.integratedLufs! - found.noiseFloorLufs!).toBeGreaterThan(30);
  });

  it('noise floor: blocks without sound do not count', () => {
    expect(noiseFloor(Float64Array.of(0, 0, 0, 0.0001, 0.01, 0.01))).toBeCloseTo(-0.691 - 40, 9);
    // Without pauses what is quietest is the sound itself.
    expect(noiseFloor(Float64Array.of(0.001, 0.01, 0.01, 0.01))).toBeNull();
    expect(noiseFloor(new Float64Array(4))).toBeNull();
  });

  it('the low and high of the range, and peak over loudness', async () => {
    const found = await details(
      tones(
        [
          { dbfs: -20, seconds: 20 },
          { dbfs: -30, seconds: 20 },
        ],
        48_000,
      ),
    );
    expect(found.loudnessRangeHighLufs).toBeCloseTo(-20, 1);
    expect(found.loudnessRangeLowLufs).toBeCloseTo(-30, 1);
    expect(found.peakToLoudnessLu).toBeCloseTo(
      found.figures.truePeakDbtp! - found.figures.integratedLufs!,
      6,
    );
  });

  it('silence has none of it', async () => {
    expect(await details([new Float32Array(96_000), new Float32Array(96_000)])).toMatchObject({
      positions: { maxMomentary: null, maxShortTerm: null, truePeak: null, samplePeak: null },
      noiseFloorLufs: null,
      correlation: null,
      peakToLoudnessLu: null,
      digitalSilence: [{ startSeconds: 0, lengthSeconds: 2 }],
      dropOuts: [],
    });
  });
});

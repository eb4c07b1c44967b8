import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memoryReader, noise, tones } from '@/core/testing/signals';
import type { ScannedClick } from './clickScan';
import { joinSlices, measureReader, measureSlice } from './measureReader';
import { peakBlockCount } from './subBlocks';

const RATE = 48_000;

async function clicksOf(samples: Float32Array[], rate = RATE): Promise<readonly ScannedClick[]> {
  return (await measureReader(memoryReader(samples, rate), () => true))!.scan.clicks;
}

/** Smooth noise: each sample the mean of many. */
function smooth(frames: number, seed: number): Float32Array {
  const x = noise(frames + 40, 0.5, seed);
  const out = new Float32Array(frames);
  for (let i = 0; i < frames; i++) for (let j = 0; j < 40; j++) out[i]! += x[i + j]! / 12;
  return out;
}

describe('clicks in a sound', () => {
  it('are found at their place: a step in a tone, of the size of the step', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 100, max: 2 * RATE - 100 }),
        fc.integer({ min: 2, max: 30 }),
        async (at, percent) => {
          const [left, right] = [0, 1].map(
            (c) => tones([{ seconds: 2, dbfs: -12 }], RATE, 1, 200 + 50 * c)[0]!,
          );
          for (let i = at; i < left!.length; i++) left![i]! += percent / 100;
          const found = await clicksOf([left!, right!]);
          expect(found.map(({ channel }) => channel)).toEqual([0]);
          expect(Math.abs(found[0]!.frame - at)).toBeLessThanOrEqual(RATE / 1000);
          expect(found[0]!.dbfs).toBeCloseTo(20 * Math.log10(percent / 100), 0);
        },
      ),
      { numRuns: 12 },
    );
  });

  it('are none in tones, noise, low saw-tooth waves, and sound that sets in at once', async () => {
    const saw = Float32Array.from(
      { length: 2 * RATE },
      (_, i) => ((i % (RATE / 40)) / (RATE / 40) - 0.5) * 0.5,
    );
    const onset = noise(2 * RATE, 0.4, 5).map((x, i) => (i < RATE ? x / 400 : x));
    for (const sound of [tones([{ seconds: 2, dbfs: -6 }], RATE, 1)[0]!, noise(2 * RATE, 0.5), saw, onset])
      expect(await clicksOf([sound])).toEqual([]);
  });

  it('are found anywhere in sound that is longer than what is held of it at a time', async () => {
    // A cell a millisecond, 4,096 of them at a time, with 50 around each.
    const places = [0.4, 3.99, 4.046, 4.095, 4.097, 4.2, 8.05, 8.193, 11.9];
    const sound = smooth(12 * RATE, 7);
    for (const at of places) sound[Math.round(at * RATE)]! += 0.4;
    const found = (await clicksOf([sound])).map(({ frame }) => frame / RATE);
    // Those within 50 ms of another hide each other: neither stands out.
    const alone = places.filter((at) => places.every((one) => one === at || Math.abs(one - at) > 0.051));
    expect(found.map((at) => alone.find((one) => Math.abs(one - at) <= 0.002))).toEqual(alone);
  });

  it('are the same however the sound is cut into slices', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.integer({ min: 10, max: 4 * RATE - 10 }), { minLength: 1, maxLength: 6 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 39 }), { maxLength: 3 }),
        fc.constantFrom(44_100, 48_000, 11_025),
        async (places, cuts, rate) => {
          const sound = smooth(4 * rate, 9);
          for (const at of places) sound[Math.floor((at * rate) / RATE)]! += 0.4;
          // Some at the cuts themselves.
          for (const cut of cuts.slice(0, 2)) sound[Math.round((cut * rate) / 10)]! -= 0.3;
          const reader = memoryReader([sound], rate);
          const edges = [0, ...cuts.sort((a, b) => a - b), peakBlockCount(sound.length, rate)];
          const parts = await Promise.all(
            edges.slice(1).map((to, i) => measureSlice(reader, edges[i]!, to, () => true)),
          );
          const joined = joinSlices(
            parts.map((part) => part!),
            reader.format,
          );
          expect(joined.scan.clicks).toEqual(await clicksOf([sound], rate));
        },
      ),
      { numRuns: 20 },
    );
  });
});

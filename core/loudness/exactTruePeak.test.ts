import { describe, expect, it } from 'vitest';
import { memoryReader, noise } from '@/core/testing/signals';
import { besselI0 } from '@/core/audio/bessel';
import { exactTruePeak } from './exactTruePeak';
import { measureReader } from './measureReader';
import { overChannels } from './sound';

const RATE = 48_000;
const always = (): boolean => true;

/** A sine at a part of the rate that fades in and out, so that its true peak is its amplitude. */
function sine(part: number, phase: number, amplitude: number, frames = RATE): Float32Array {
  const fade = frames / 6;
  return Float32Array.from({ length: frames }, (_, i) => {
    const edge = Math.min(1, i / fade, (frames - 1 - i) / fade);
    return amplitude * (0.5 - 0.5 * Math.cos(Math.PI * edge)) * Math.sin(2 * Math.PI * part * i + phase);
  });
}

async function peaksOf(channels: Float32Array[], inOrder = false) {
  const reader = memoryReader(channels, RATE);
  const standard = overChannels((await measureReader(reader, always))!.history.truePeak);
  const exact = await exactTruePeak(reader, standard, always, inOrder);
  return { standardDb: 20 * Math.log10(standard.reduce((a, b) => Math.max(a, b), 0)), exact: exact! };
}

describe('the two true peaks', () => {
  const parts = [0.05, 0.1, 0.125, 1 / 6, 0.2, 0.25, 0.3, 1 / 3, 0.375, 0.4, 0.42, 0.45, 0.47, 0.49];
  it.each(parts)('of sines at %f of the rate lie within their stated errors', async (part) => {
    for (const phase of [0, 0.4, Math.PI / 4]) {
      const { standardDb, exact } = await peaksOf([sine(part, phase, 0.5, RATE / 5)]);
      const expected = 20 * Math.log10(0.5);
      expect(Math.abs(exact.truePeakDbtp! - expected)).toBeLessThan(0.01);
      expect(standardDb - expected).toBeLessThan(0.25);
      expect(standardDb - expected).toBeGreaterThan(-0.7);
    }
  });

  it('of a sum of sines agree with the sum itself, looked at closely', async () => {
    const waves = [
      [0.031, 0.3, 0.2],
      [0.187, 1.7, 0.25],
      [0.331, 0.9, 0.2],
      [0.463, 2.2, 0.15],
    ] as const;
    const at = (t: number): number =>
      waves.reduce((sum, [part, phase, a]) => sum + a * Math.sin(2 * Math.PI * part * t + phase), 0);
    const x = Float32Array.from({ length: 3 * RATE }, (_, i) => {
      const fade = Math.min(1, i / 4000, (3 * RATE - 1 - i) / 4000);
      return fade * at(i);
    });
    let highest = 0;
    for (let t = 4000; t < 3 * RATE - 4000; t += 1 / 64) highest = Math.max(highest, Math.abs(at(t)));
    const { exact } = await peaksOf([x]);
    expect(exact.truePeakDbtp).toBeCloseTo(20 * Math.log10(highest), 2);
  });

  it('of samples at random signs nothing is overlooked, however much the standard reads too little', async () => {
    // The same interpolation by its definition, at every sixteenth of every sample.
    const [reach, beta] = [160, 9];
    const window = (d: number): number => besselI0(beta * Math.sqrt(Math.max(0, 1 - (d / reach) ** 2)));
    for (const seed of [1, 2]) {
      const x = noise(1_200, 1, seed).map(Math.sign);
      let highest = 0;
      for (let t = 0; t < x.length; t += 1 / 16) {
        let [sum, whole] = [0, 0];
        for (let n = Math.ceil(t - reach); n <= t + reach; n++) {
          const d = t - n;
          const tap = (d === 0 ? 1 : Math.sin(Math.PI * d) / (Math.PI * d)) * window(d);
          sum += tap * (x[n] ?? 0);
          whole += tap;
        }
        highest = Math.max(highest, Math.abs(sum / whole));
      }
      const { exact, standardDb } = await peaksOf([x]);
      const brute = 20 * Math.log10(highest);
      // The top lies between the sixteenths, a little over them.
      expect(exact.truePeakDbtp!).toBeGreaterThan(brute - 0.005);
      expect(exact.truePeakDbtp!).toBeLessThan(brute + 0.05);
      expect(brute - standardDb).toBeGreaterThan(0.3);
    }
  });

  it('exact is never under the samples, tells channel and place, and reads forward as well', async () => {
    const quiet = noise(2 * RATE, 0.2, 3);
    const loud = noise(2 * RATE, 0.3, 4);
    loud.set(sine(0.25, Math.PI / 4, 0.9, 600), 61_000);
    const { exact } = await peaksOf([quiet, loud]);
    const samples = loud.reduce((a, b) => Math.max(a, Math.abs(b)), 0);
    expect(exact.truePeakDbtp!).toBeGreaterThanOrEqual(20 * Math.log10(samples) - 1e-6);
    expect(exact.channel).toBe('R');
    expect(exact.atSeconds! * RATE).toBeGreaterThan(61_000);
    expect(exact.atSeconds! * RATE).toBeLessThan(61_600);
    const forward = await peaksOf([quiet, loud], true);
    expect(forward.exact.truePeakDbtp).toBeCloseTo(exact.truePeakDbtp!, 9);
  });

  it('of silence there is none; it can be stopped', async () => {
    const { exact } = await peaksOf([new Float32Array(RATE)]);
    expect(exact).toEqual({ truePeakDbtp: null, channel: null, atSeconds: null });
    const reader = memoryReader([noise(5 * RATE, 0.5)], RATE);
    expect(await exactTruePeak(reader, new Float32Array(50).fill(0.5), () => false)).toBeNull();
  });
});

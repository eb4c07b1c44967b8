import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import { joinOverview, OverviewBuilder } from '@/core/audio/overview';
import { F32, F64, S16, S24, S32, U8, type SampleEncoding } from '@/core/audio/pcm';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { signalArrays } from '@/core/loudness/signalBlocks';
import { SignalScanner } from '@/core/loudness/signalScan';
import { noise } from '@/core/testing/signals';
import type { Kernel } from './kernel';
import { newKernel } from './newKernel';
import { PlainKernel } from './plainKernel';
import { WasmKernel } from './wasmKernel';

const wasm = (rate: number, channels: number, capacity: number): Kernel =>
  WasmKernel.create(rate, channels, capacity)!;
const plain = (rate: number, channels: number, capacity: number): Kernel =>
  new PlainKernel(rate, channels, capacity);

/** Speech-like slices, full-scale ones, and exact silence, by a seed. */
function signal(frames: number, seed: number): Float32Array {
  const x = noise(frames, 1.2, seed);
  let low = 0;
  for (let i = 0; i < frames; i++) {
    low += 0.2 * (x[i]! - low);
    const part = Math.floor(i / 3000 + seed) % 4;
    x[i] = part === 0 ? 0 : part === 1 ? Math.max(-1, Math.min(1, 3 * low)) : low * Math.sin(i / 900) ** 2;
  }
  return x;
}

it('the kernel in use here is the one in WebAssembly', () => {
  expect(newKernel(48_000, 2, 4800).kind).toBe('wasm');
});

describe('WebAssembly and plain kernels agree', () => {
  it.each([8_000, 11_025, 44_100, 48_000, 96_000, 384_000])(
    'on loudness to 1e-9 LU and on peaks to 5e-6 dB, at %i Hz',
    (rate) => {
      fc.assert(
        fc.property(
          fc.integer({ min: 1, max: 3 }),
          fc.integer({ min: Math.floor(rate / 2), max: Math.max(60_000, Math.floor(rate * 1.7)) }),
          fc.nat(1000),
          (channels, frames, seed) => {
            const sound = Array.from({ length: channels }, (_, c) => signal(frames, seed + 7 * c + 1));
            const [a, b] = [wasm, plain].map((kernel) => {
              const meter = new LoudnessMeter(layoutFor(channels), rate, { kernel });
              meter.push(sound);
              return meter.finish();
            });
            const [ours, reference] = [figuresOf(a!), figuresOf(b!)];
            for (const key of ['integratedLufs', 'maxMomentaryLufs'] as const) {
              if (reference[key] === null) expect(ours[key]).toBeNull();
              else expect(Math.abs(ours[key]! - reference[key])).toBeLessThan(1e-9);
            }
            b!.truePeak.forEach((peaks, c) => {
              peaks.forEach((peak, k) => {
                const found = a!.truePeak[c]![k]!;
                if (peak === 0) expect(found).toBe(0);
                else expect(Math.abs(20 * Math.log10(found / peak))).toBeLessThan(5e-6);
              });
            });
            expect(a!.samplePeak).toEqual(b!.samplePeak);
          },
        ),
        { numRuns: rate > 100_000 ? 3 : 10 },
      );
    },
  );

  it('on the products of pairs, and those agree with the energies', () => {
    const rate = 44_100;
    const ends = [700, 882, 1764];
    const sound = [3, 4, 5, 6].map((seed) => signal(2_000, seed));
    const [a, b] = [wasm, plain].map((make) => {
      const kernel = make(rate, 4, 2_000);
      sound.forEach((x, c) => kernel.samples(c).set(x, 16));
      return kernel.products(ends);
    });
    const alone = plain(rate, 4, 2_000);
    sound.forEach((x, c) => alone.samples(c).set(x, 16));
    const energies = alone.measure({ subBlocks: ends, peakBlocks: [] });
    b!.forEach(({ aa, bb, ab }, pair) => {
      for (let k = 0; k < ends.length; k++) {
        const size = aa[k]! + bb[k]!;
        expect(Math.abs(a![pair]!.ab[k]! - ab[k]!)).toBeLessThanOrEqual(1e-9 * size);
        expect(Math.abs(a![pair]!.aa[k]! - aa[k]!)).toBeLessThanOrEqual(1e-9 * size);
        expect(aa[k]).toBeCloseTo(energies[2 * pair]!.energy[k]!, 12);
        expect(bb[k]).toBeCloseTo(energies[2 * pair + 1]!.energy[k]!, 12);
      }
    });
    expect(Math.abs(b![1]!.ab[2]!)).toBeGreaterThan(0);
  });

  it('on waveform, clipping, silence, offset and correlation', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 30_000 }),
        fc.nat(1000),
        (channels, frames, seed) => {
          const sound = Array.from({ length: channels }, (_, c) => signal(frames, seed + 7 * c + 1));
          const [a, b] = [wasm, plain].map((kernel) => {
            const overview = new OverviewBuilder();
            const scanner = new SignalScanner(layoutFor(channels).labels, 8_000);
            const listeners = [overview, scanner];
            const meter = new LoudnessMeter(layoutFor(channels), 8_000, { kernel, listeners });
            meter.push(sound);
            meter.finish();
            return { overview: joinOverview([overview.part()], frames), scan: scanner.finish() };
          });
          // Comparing says which of two zeros is smaller, or does not; nobody can see it.
          const plus = (levels: Float32Array) => levels.map((x) => x + 0);
          a!.overview.levels.forEach(({ low, high }, n) => {
            expect(plus(low)).toEqual(plus(b!.overview.levels[n]!.low));
            expect(plus(high)).toEqual(plus(b!.overview.levels[n]!.high));
          });
          for (const key of ['clippedSamples', 'clippedRuns', 'zeroRuns', 'samplePeaks', 'clicks'] as const)
            expect(a!.scan[key]).toEqual(b!.scan[key]);
          a!.scan.sum.forEach((sum, c) => expect(sum / frames).toBeCloseTo(b!.scan.sum[c]! / frames, 6));
          a!.scan.pair.forEach((sum, i) => expect(sum / frames).toBeCloseTo(b!.scan.pair[i]! / frames, 6));
          const [one, other] = [signalArrays(a!.scan.blocks), signalArrays(b!.scan.blocks)];
          one.forEach((sums, n) => sums.forEach((sum, k) => expect(sum).toBeCloseTo(other[n]![k]!, 2)));
        },
      ),
      { numRuns: 30 },
    );
  });

  it.each<[string, SampleEncoding]>(
    [U8, { ...U8, kind: 'signed' as const }, S16, S24, S32, F32, F64].flatMap((encoding) =>
      [false, true].map((bigEndian): [string, SampleEncoding] => [
        `${encoding.kind} ${encoding.bits}${bigEndian ? ', big-endian' : ''}`,
        { ...encoding, bigEndian },
      ]),
    ),
  )('on every byte of %s', (_name, encoding) => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 0, maxLength: 700 }),
        fc.integer({ min: 1, max: 5 }),
        fc.nat(40),
        (bytes, channels, at) => {
          const frames = Math.floor(bytes.length / ((channels * encoding.bits) / 8));
          const [a, b] = [wasm(48_000, channels, 1000), plain(48_000, channels, 1000)];
          expect(a.decode(bytes, encoding, frames, at)).toBe(b.decode(bytes, encoding, frames, at));
          for (let c = 0; c < channels; c++) {
            const [x, y] = [a.samples(c), b.samples(c)];
            for (let i = 16; i < 16 + at + frames; i++) if (x[i] !== y[i]) expect(x[i]).toBe(y[i]);
          }
        },
      ),
      { numRuns: 120 },
    );
  });
});

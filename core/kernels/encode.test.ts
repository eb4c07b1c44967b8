import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encodePcm, type WriteFormat } from '@/core/audio/pcm';
import { encodeSamples } from './encode';
import { moduleOrNull } from './wasmModule';

const FORMATS: readonly WriteFormat[] = ['s16', 's24', 'f32'];

/** Samples where rounding is decided: halves of a step, just beside them, full scale, beyond it, and what is no number. */
const edges = fc.oneof(
  fc.float({ min: -2, max: 2, noNaN: true }),
  fc
    .tuple(
      fc.integer({ min: -8_388_700, max: 8_388_700 }),
      fc.constantFrom(0, 0.25, 0.5, 0.75),
      fc.constantFrom(2 ** 15, 2 ** 23),
    )
    .map(([steps, part, scale]) => (steps + part) / scale),
  fc.constantFrom(
    1,
    -1,
    0.5 / 2 ** 23,
    -0.5 / 2 ** 23,
    0.49999997 / 2 ** 15,
    -0.49999997 / 2 ** 15,
    NaN,
    Infinity,
    -Infinity,
    -0,
  ),
);

const sounds = fc.integer({ min: 1, max: 6 }).chain((channels) =>
  fc.integer({ min: 0, max: 37 }).chain((frames) =>
    fc.array(fc.array(edges, { minLength: frames, maxLength: frames }), {
      minLength: channels,
      maxLength: channels,
    }),
  ),
);

describe('samples as bytes', () => {
  it('are the same in vectors as one by one, with the same held at full scale', () => {
    expect(moduleOrNull()).not.toBeNull();
    fc.assert(
      fc.property(sounds, fc.constantFrom(...FORMATS), (sound, format) => {
        const channels = sound.map((samples) => Float32Array.from(samples));
        const frames = channels[0]!.length;
        const plain = encodePcm(channels, frames, format);
        const fast = encodeSamples(channels, frames, format);
        expect(fast.clipped).toBe(plain.clipped);
        expect(fast.bytes).toEqual(plain.bytes);
      }),
      { numRuns: 2_000 },
    );
  });

  it('round to the nearest step, halves upwards', () => {
    const scale = 2 ** 15;
    const steps = [0.5, -0.5, 1.5, -1.5, 2.49, -2.51, 32_766.5, -32_768.5];
    const sound = Float32Array.from(steps, (step) => step / scale);
    const { bytes, clipped } = encodeSamples([sound, sound], steps.length, 's16');
    const read = new Int16Array(bytes.buffer).filter((_, i) => i % 2 === 0);
    expect([...read]).toEqual([1, 0, 2, -1, 2, -3, 32_767, -32_768]);
    expect(clipped).toBe(0);
  });
});

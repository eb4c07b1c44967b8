import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encodePcm, decodePcm, WRITTEN } from '@/core/audio/pcm';
import { noise } from '@/core/testing/signals';
import { newMixer, PlainMixer, type Mixer } from './mixer';

const levels = fc.double({ min: -2, max: 2, noNaN: true });

describe('mixing', () => {
  it('in WebAssembly is the same to the bit as the plain reference, and the sum it should be', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3 }),
        fc.integer({ min: 1, max: 4 }),
        fc.integer({ min: 1, max: 700 }),
        fc.nat(50),
        fc.array(levels, { minLength: 12, maxLength: 12 }),
        fc.constantFrom('s16' as const, 's24' as const, 'f32' as const),
        (channels, sources, frames, at, numbers, format) => {
          const matrix = Array.from({ length: channels }, (_, to) =>
            Array.from({ length: sources }, (__, from) => numbers[to * sources + from]!),
          );
          const sound = Array.from({ length: sources }, (_, c) => noise(frames, 0.7, c + 1));
          const { bytes } = encodePcm(sound, frames, format);
          const use = (mixer: Mixer): Float32Array[] => {
            mixer.add(sound, at, matrix, 0.7);
            mixer.addBytes(bytes, WRITTEN[format], frames, 0, matrix, -1.3);
            return mixer.finish();
          };
          const fast = use(newMixer(channels, frames + at));
          expect(fast).toEqual(use(new PlainMixer(channels, frames + at)));
          const coded = decodePcm(bytes, WRITTEN[format], sources, frames).channels;
          fast.forEach((channel, to) =>
            channel.forEach((x, i) => {
              let exact = 0;
              for (let from = 0; from < sources; from++)
                exact +=
                  matrix[to]![from]! * (0.7 * (sound[from]![i - at] ?? 0) - 1.3 * (coded[from]![i] ?? 0));
              if (Math.abs(x - exact) > 1e-5) throw new Error(`${x} is not ${exact}`);
            }),
          );
        },
      ),
      { numRuns: 60 },
    );
    expect(newMixer(1, 1).kind).toBe('wasm');
  });

  it('begins with silence, whatever was mixed before', () => {
    const first = newMixer(2, 100);
    first.add([noise(100, 1)], 0, [[1], [1]], 1);
    first.finish();
    expect(newMixer(2, 100).finish()).toEqual([new Float32Array(100), new Float32Array(100)]);
  });
});

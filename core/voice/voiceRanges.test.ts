import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { certaintyByte, voiceRanges } from './voiceRanges';

const FRAME = 512 / 16_000;
const frames = (...parts: readonly (readonly [seconds: number, certainty: number])[]): Uint8Array =>
  Uint8Array.from(
    parts.flatMap(([seconds, sure]) => Array<number>(Math.round(seconds / FRAME)).fill(certaintyByte(sure))),
  );

describe('speech out of the certainty of frames', () => {
  it('begins where the detector is sure, and goes on through doubt and breath', () => {
    const ranges = voiceRanges(frames([1, 0.1], [1, 0.9], [0.3, 0.4], [0.3, 0.1], [1, 0.8], [2, 0]), 5.6);
    expect(ranges).toHaveLength(1);
    expect(ranges[0]!.from).toBeCloseTo(1 - 0.06, 1);
    expect(ranges[0]!.to).toBeCloseTo(3.6 + 0.06, 1);
  });

  it('does not begin in doubt, nor with what is too short for a word', () => {
    expect(voiceRanges(frames([1, 0.45], [0.1, 0.9], [1, 0.1]), 2.1)).toEqual([]);
  });

  it('lies within the sound, in order, whatever the frames are', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (certainty) => {
        const seconds = certainty.length * FRAME;
        let last = 0;
        for (const { from, to } of voiceRanges(certainty, seconds)) {
          expect(from).toBeGreaterThanOrEqual(last);
          expect(to).toBeGreaterThan(from);
          expect(to).toBeLessThanOrEqual(seconds);
          last = to;
        }
      }),
    );
  });
});

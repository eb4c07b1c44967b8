import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import type { FramePart } from '@/core/audio/soundWriter';
import { noise } from '@/core/testing/signals';
import { pcmWriter, type PcmFile } from './pcmWriter';

/** All that a writer puts down, in one piece. */
async function written(file: PcmFile, sound: readonly Float32Array[], part?: FramePart): Promise<Uint8Array> {
  const { from, to } = part ?? { from: 0, to: file.frames };
  const pieces: { bytes: Uint8Array; at: number }[] = [];
  const writer = await pcmWriter(
    { ...file, ...(part && { part }) },
    (bytes, at) => void pieces.push({ bytes, at }),
  );
  // In two uneven pieces, as sound comes.
  const middle = from + Math.floor((to - from) / 3);
  for (const [a, b] of [
    [from, middle],
    [middle, to],
  ] as const)
    if (b > a)
      await writer.write(
        sound.map((samples) => samples.subarray(a, b)),
        b - a,
      );
  await writer.finish();
  expect(
    pieces.every(({ at }, i) => at === pieces.slice(0, i).reduce((sum, { bytes }) => sum + bytes.length, 0)),
  ).toBe(true);
  return Buffer.concat(pieces.map(({ bytes }) => bytes));
}

describe('parts of a file that are written apart', () => {
  it('joined are the file to the bit, wherever it is cut', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom('wav', 'rf64', 'bw64', 'aiff'),
        fc.constantFrom('s16', 's24', 'f32'),
        fc.integer({ min: 1, max: 6 }),
        fc.integer({ min: 2, max: 301 }),
        fc.array(fc.integer({ min: 1, max: 300 }), { maxLength: 4 }),
        async (kind, format, channels, frames, cuts) => {
          const sound = Array.from({ length: channels }, (_, c) => noise(frames, 1.1, c + 1));
          const file: PcmFile = { kind, format, frames, layout: layoutFor(channels), sampleRate: 48_000 };
          const whole = await written(file, sound);
          const at = [...new Set([0, ...cuts.filter((cut) => cut < frames), frames])].sort((a, b) => a - b);
          const parts = await Promise.all(
            at.slice(1).map((to, i) => written(file, sound, { from: at[i]!, to })),
          );
          expect(Buffer.compare(Buffer.concat(parts), whole)).toBe(0);
        },
      ),
      { numRuns: 120 },
    );
  });
});

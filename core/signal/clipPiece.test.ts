import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bytesSource } from '@/core/audio/byteSource';
import { MONO, STEREO } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import type { AudioReader } from '@/core/audio/reader';
import { openPcm } from '@/core/formats/openPcm';
import { wavFrame } from '@/core/formats/wav/write';
import { newMixer } from '@/core/kernels/mixer';
import { clipArbitrary, testProject } from '@/core/testing/projects';
import { noise } from '@/core/testing/signals';
import { clipParts, clipPiece } from './clipPiece';
import { clipSound } from './clipSound';
import { addPiece, Room, type Piece } from './piece';

const FRAMES = 4 * 48_000;

/** A file of plain samples, which a clip without fades and curves is mixed from as it lies there. */
function fileOf(channels: number): Promise<AudioReader> {
  const samples = Array.from({ length: channels }, (_, c) => noise(FRAMES, 0.5, c + 1));
  const layout = channels === 1 ? MONO : STEREO;
  const { header, trailer } = wavFrame({ sampleRate: 48_000, layout, format: 's24', frames: FRAMES });
  const { bytes } = encodePcm(samples, FRAMES, 's24');
  return openPcm(bytesSource(Uint8Array.from([...header, ...bytes, ...trailer])));
}

const files = [fileOf(1), fileOf(2)];

function mixed(
  parts: readonly { readonly at: number; readonly piece: Piece }[],
  from: number,
  count: number,
) {
  const mixer = newMixer(2, count);
  for (const { at, piece } of parts) addPiece(mixer, piece, at - from);
  return mixer.finish();
}

describe('a clip in parts', () => {
  it('is the same to the bit as in one piece, wherever its fades and its curve lie', async () => {
    let several = 0;
    await fc.assert(
      fc.asyncProperty(
        clipArbitrary,
        fc.nat(1),
        fc.double({ min: 0, max: 0.4, noNaN: true }),
        async (any, kind, cut) => {
          const clip = { ...any, sourceId: `s${kind}` };
          const reader = await files[kind]!;
          const sound = clipSound(testProject([clip]), clip)!;
          const [from, to] = [Math.floor(cut * clip.length), Math.ceil((1 - cut / 2) * clip.length)];
          if (to <= from) return;
          const parts = await clipParts(reader, sound, from, to, new Room());
          if (parts.length > 1) several++;
          expect(parts.map(({ at }) => at)).toEqual(
            [...new Set(parts.map(({ at }) => at))].sort((a, b) => a - b),
          );
          const inParts = mixed(parts, from, to - from);
          const whole = await clipPiece(reader, sound, from, to, new Room());
          const asOne = mixed([{ at: from, piece: whole }], from, to - from);
          inParts.forEach((samples, c) => {
            const bytes = (x: Float32Array) => Buffer.from(x.buffer, x.byteOffset, x.byteLength);
            expect(bytes(samples).equals(bytes(asOne[c]!))).toBe(true);
          });
        },
      ),
      { numRuns: 80 },
    );
    expect(several).toBeGreaterThan(10);
  });
});

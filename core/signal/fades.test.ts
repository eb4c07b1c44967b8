import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import type { Clip, FadeShape } from '@/core/programme/model';
import type { ClipSound } from './clipSound';
import { fadeAt } from '@/core/programme/fadeLaw';
import { applyFades, fades, fadesWithin } from './fades';
import { renderRange } from './mix';

const USUAL = { fadeInShape: 'equalPower', fadeOutShape: 'equalPower' } as const;

describe('fades', () => {
  it('two that cross have constant power', () => {
    for (let part = 0; part <= 1; part += 0.05)
      expect(fadeAt(part) ** 2 + fadeAt(1 - part) ** 2).toBeCloseTo(1, 12);
    expect(fadeAt(-1)).toBe(0);
    expect(fadeAt(2)).toBe(1);
  });

  const shapes = fc.oneof(
    fc.constantFrom<FadeShape[]>('equalPower', 'straight', 'smooth', 'exponential'),
    fc.double({ min: -1, max: 1, noNaN: true }),
  );

  it('of every shape begin in silence, end in full, and never go back', () => {
    fc.assert(
      fc.property(shapes, (shape) => {
        expect(fadeAt(0, shape)).toBeCloseTo(0, 12);
        expect(fadeAt(1, shape)).toBeCloseTo(1, 12);
        // Sounds that cancel each other need more than either alone in between.
        if (typeof shape === 'number' && shape < 0) return;
        for (let t = 0; t < 1; t += 0.01)
          expect(fadeAt(t + 0.01, shape)).toBeGreaterThanOrEqual(fadeAt(t, shape));
      }),
    );
  });

  it('two that cross keep the power of sounds of a known correlation', () => {
    fc.assert(
      fc.property(fc.double({ min: -0.9, max: 1, noNaN: true }), fc.double({ min: 0, max: 1 }), (rho, t) => {
        const [a, b] = [fadeAt(1 - t, rho), fadeAt(t, rho)];
        expect(a * a + b * b + 2 * rho * a * b).toBeCloseTo(1, 12);
      }),
    );
    // The same sound is faded as it would be by amplitude, at both ends and in the middle.
    expect(fadeAt(0.5, 1)).toBeCloseTo(0.5, 12);
    expect(fadeAt(0.5, 0)).toBeCloseTo(Math.SQRT1_2, 12);
  });

  it('have a shape in their key, and differ by it where there is a fade', () => {
    const sound = (more: Partial<Clip>): ClipSound =>
      ({ clip: testClip({ id: 'a', length: 1_000, ...more }) }) as unknown as ClipSound;
    const faded = sound({ fadeIn: 100 });
    const straight = sound({ fadeIn: 100, fadeInShape: 'straight' });
    expect(fades.key(faded)).toEqual([100, 0]);
    expect(fades.key(straight)).not.toEqual(fades.key(faded));
    expect(fades.difference(faded, straight)).toEqual({ from: 0, to: 100 });
    expect(fades.difference(sound({}), sound({ fadeOutShape: 0.5 }))).toBeNull();
    expect(fades.key(sound({ fadeIn: 100, fadeOutShape: 0.5 }))).toEqual([100, 0]);
  });

  it('are the same in any pieces, and touch nothing between them', () => {
    fc.assert(
      fc.property(fc.nat(60), fc.nat(60), fc.integer({ min: 1, max: 40 }), (fadeIn, rest, piece) => {
        const clip = { ...USUAL, length: 120, fadeIn, fadeOut: Math.min(60, rest) };
        const whole = new Float32Array(120).fill(1);
        applyFades([whole], clip, 0);
        for (let from = 0; from < 120; from += piece) {
          const part = new Float32Array(Math.min(piece, 120 - from)).fill(1);
          applyFades([part], clip, from);
          expect(part).toEqual(whole.slice(from, from + part.length));
          if (!fadesWithin(clip, from, from + part.length)) expect(part.every((x) => x === 1)).toBe(true);
        }
        whole.forEach((x, i) => {
          const expected =
            (i < clip.fadeIn ? Math.sin((Math.PI / 2) * ((i + 0.5) / clip.fadeIn)) : 1) *
            (i >= 120 - clip.fadeOut ? Math.sin((Math.PI / 2) * ((119.5 - i) / clip.fadeOut)) : 1);
          expect(x).toBeCloseTo(expected, 6);
        });
      }),
    );
  });

  it('are rendered', async () => {
    const plain = testClip({ id: 'a', sourceId: 's1', start: 500, length: 20_000 });
    const [a, b] = await Promise.all(
      [plain, { ...plain, fadeIn: 4_000, fadeOut: 6_000 }].map((clip) =>
        renderRange(testProject([clip]), openTestSource, 0, 21_000),
      ),
    );
    expect(b![0]![500 + 2_000]).toBeCloseTo(a![0]![500 + 2_000]! * fadeAt(2_000.5 / 4_000), 6);
    expect(b![1]![10_000]).toBe(a![1]![10_000]);
    expect(b![1]![500 + 17_000]).toBeCloseTo(a![1]![500 + 17_000]! * fadeAt(2_999.5 / 6_000), 6);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { applyFades, fadeAt, fadesWithin } from './fades';
import { renderRange } from './mix';

describe('fades', () => {
  it('two that cross have constant power', () => {
    for (let part = 0; part <= 1; part += 0.05)
      expect(fadeAt(part) ** 2 + fadeAt(1 - part) ** 2).toBeCloseTo(1, 12);
    expect(fadeAt(-1)).toBe(0);
    expect(fadeAt(2)).toBe(1);
  });

  it('are the same in any pieces, and touch nothing between them', () => {
    fc.assert(
      fc.property(fc.nat(60), fc.nat(60), fc.integer({ min: 1, max: 40 }), (fadeIn, rest, piece) => {
        const clip = { length: 120, fadeIn, fadeOut: Math.min(60, rest) };
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

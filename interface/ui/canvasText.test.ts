import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fittedText, textWidth } from './canvasText';

/** Letters of different widths: a narrow i, a wide m. */
const widthOf = (char: string): number => (char === 'i' ? 3 : char === 'm' ? 9 : 6);
const context = {
  font: '11px made up',
  measureText: (text: string) =>
    ({ width: [...text].reduce((sum, char) => sum + widthOf(char), 0) }) as TextMetrics,
};
const texts = fc.string({ unit: fc.constantFrom('i', 'm', 'a', ' ', '-', '🜂', 'é') });

describe('a text in a canvas', () => {
  it('is as wide as its letters', () => {
    fc.assert(
      fc.property(texts, (text) => {
        expect(textWidth(context, text)).toBe(context.measureText(text).width);
      }),
    );
  });

  it('is cut to the room there is, between letters, and says so where it can', () => {
    fc.assert(
      fc.property(texts, fc.integer({ min: -5, max: 120 }), (text, room) => {
        const fitted = fittedText(context, text, room);
        expect(textWidth(context, fitted)).toBeLessThanOrEqual(Math.max(0, room));
        if (textWidth(context, text) <= room) {
          expect(fitted).toBe(text);
          return;
        }
        const kept = [...fitted.replace(/…$/, '')];
        expect([...text].slice(0, kept.length)).toEqual(kept);
        // Another letter would not have fitted, with or without the dots.
        const more = [...text].slice(0, kept.length + 1).join('');
        const ending = fitted.endsWith('…') ? '…' : '';
        if (!/ $/.test(more)) expect(textWidth(context, more + ending)).toBeGreaterThan(room);
      }),
    );
  });
});

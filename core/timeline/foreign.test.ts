import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { asItWas, bearable } from './foreign';

const nested = (levels: number, innermost: string): string =>
  '{"in":['.repeat(levels) + innermost + ']}'.repeat(levels);

describe('foreign data', () => {
  it('of thousands of levels are kept in a few, and written back as they were', () => {
    const text = nested(20_000, '{"colour":"blue \\"}{","n":[1,null,true]}');
    const kept = bearable(JSON.parse(text) as Record<string, unknown>);
    let levels = 0;
    for (let at: unknown = kept; typeof at === 'object' && at !== null; at = Object.values(at)[0]) levels++;
    expect(levels).toBeLessThan(60);
    expect(structuredClone(kept)).toEqual(kept);
    expect(asItWas(JSON.stringify(kept))).toBe(text);
  });

  it('of few levels stay what they are', () => {
    const kept = { metadata: { deep: [{ a: 1 }] } };
    expect(bearable(kept)).toBe(kept);
    expect(asItWas(JSON.stringify(kept, null, 1))).toBe(JSON.stringify(kept, null, 1));
  });

  it('that look like text of ours but are none stay as they are', () => {
    for (const odd of [
      '{"dengung_as_text":"no json"}',
      '{"dengung_as_text":"1","b":2}',
      '{"dengung_as_text":7}',
    ])
      expect(JSON.parse(asItWas(odd))).toEqual(JSON.parse(odd));
  });

  it('any', () => {
    fc.assert(
      fc.property(fc.jsonValue({ maxDepth: 4 }), fc.integer({ min: 20, max: 80 }), (value, levels) => {
        const text = nested(levels, JSON.stringify(value));
        const kept = bearable(JSON.parse(text) as Record<string, unknown>);
        expect(JSON.parse(asItWas(JSON.stringify(kept, null, 1)))).toEqual(JSON.parse(text));
      }),
    );
  });
});

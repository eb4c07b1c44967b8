import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { held, heldTogether, heldWords } from './held';

const db = (min: number, max: number) => fc.double({ min, max, noNaN: true });

describe('a change of gain that is held', () => {
  it('is the nearest to what was wanted that passes neither the ceiling nor the range, and says what stopped it', () => {
    fc.assert(
      fc.property(db(-90, 90), db(-90, 90), db(-60, 0), db(0, 60), (wanted, toCeiling, minDb, maxDb) => {
        const { changeDb, limitedBy } = held(wanted, toCeiling, { minDb, maxDb });
        expect(changeDb).toBeGreaterThanOrEqual(minDb);
        expect(changeDb).toBeLessThanOrEqual(maxDb);
        // Only a gain that can go no lower leaves a peak over the ceiling.
        if (changeDb > toCeiling) expect(changeDb).toBe(minDb);
        if (limitedBy === null) expect(changeDb).toBe(wanted);
        else if (limitedBy === 'ceiling') expect(changeDb).toBe(toCeiling);
        else expect([minDb, maxDb]).toContain(changeDb);
        if (wanted <= toCeiling && wanted >= minDb && wanted <= maxDb) expect(limitedBy).toBeNull();
      }),
    );
  });

  it('is ignored of a ceiling where that is infinite', () => {
    expect(held(12, Infinity, { minDb: -72, maxDb: 48 })).toEqual({
      wantedDb: 12,
      changeDb: 12,
      limitedBy: null,
    });
  });

  it('together goes as far as the one that stops first', () => {
    const room = { minDb: -72, maxDb: 48 };
    const all = [9, 4, 7].map((toCeiling) => ({ of: toCeiling, held: held(8, toCeiling, room) }));
    expect(heldTogether(all)).toMatchObject({ of: 4, held: { changeDb: 4, limitedBy: 'ceiling' } });
    expect(heldTogether(all.slice(0, 1)).held.limitedBy).toBeNull();
  });

  it('is told in one way', () => {
    const told = { peak: 'its peak', ceilingDbtp: -1, gain: 'clip gain' };
    expect(heldWords(held(6, 2.5, { minDb: -72, maxDb: 48 }), told)).toBe(
      '+6.0 dB wanted, +2.5 dB given: its peak reaches −1.0 dBTP first',
    );
    expect(heldWords(held(60, Infinity, { minDb: -72, maxDb: 48 }), told)).toBe(
      '+60.0 dB wanted, +48.0 dB given: clip gain goes no further',
    );
    expect(heldWords(held(1, 2, { minDb: -72, maxDb: 48 }), told)).toBeNull();
  });
});

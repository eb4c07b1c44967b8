import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { targetSchema } from '@/core/check/schema';
import { EBU_R128 } from '@/core/check/shipped';
import { parseGainEntry } from '@/core/programme/gainField';
import { readNumber, typedNumber } from './typedNumber';

describe('a number that is typed', () => {
  it.each([
    ['-6', 'dB', -6],
    ['−6,5', 'dB', -6.5],
    [' +3. ', 'dB', 3],
    ['.5', 'LU', 0.5],
    ['−23 LUFS', 'LUFS', -23],
    ['-24 lkfs', 'LUFS', -24],
    ['-1dBTP', 'dBTP', -1],
    ['3 db', 'dB', 3],
    ['20 ms', 'ms', 20],
  ])('%s in %s', (text, unit, value) => expect(typedNumber(text, unit)).toBe(value));

  it.each([
    '',
    ' ',
    '1e1',
    '0x10',
    '0b1',
    'Infinity',
    'NaN',
    '1.2.3',
    '1,2,3',
    '--3',
    '3 km',
    'six',
    '1 2',
    '6 LU',
  ])('%s is none', (text) => expect(typedNumber(text, 'dB')).toBeNaN());

  it('is one wherever it is typed: figures, gains, the fields of a target', () => {
    fc.assert(
      fc.property(fc.double({ min: -59, max: 0, noNaN: true }), fc.boolean(), (value, withUnit) => {
        const text = value.toFixed(2).replace('-', '−').replace('.', ',');
        const expected = Number(value.toFixed(2));
        const [lufs, db] = withUnit ? [' LUFS', ' dB'] : ['', ''];
        expect(readNumber(text + lufs, 'no', [-60, 0, 'LUFS'])).toBeCloseTo(expected, 9);
        const gain = parseGainEntry(text + db);
        expect('db' in gain && gain.db).toBeCloseTo(expected, 9);
        const fields = { ...EBU_R128, integratedLufs: text + lufs };
        expect(targetSchema.validateSync(fields).integratedLufs).toBeCloseTo(expected, 9);
      }),
    );
    for (const odd of ['0x10', '-1e1', '']) {
      expect(readNumber(odd, 'from −60 to 0 LUFS', [-60, 0, 'LUFS'])).toEqual({
        error: 'from −60 to 0 LUFS',
      });
      expect(parseGainEntry(odd)).toHaveProperty('error');
      expect(() => targetSchema.validateSync({ ...EBU_R128, integratedLufs: odd })).toThrow(
        'Integrated: a number from −60 to 0 LUFS',
      );
    }
    // An empty limit is none.
    expect(targetSchema.validateSync({ ...EBU_R128, maxShortTermLufs: '' }).maxShortTermLufs).toBeNull();
    expect(targetSchema.validateSync({ ...EBU_R128, maxShortTermLufs: '-18,5' }).maxShortTermLufs).toBe(
      -18.5,
    );
  });
});

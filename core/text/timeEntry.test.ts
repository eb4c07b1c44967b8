import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clock } from './figures';
import { parseRange, parseTime } from './timeEntry';

describe('a typed time', () => {
  it.each([
    ['0', 0],
    ['83.5', 83.5],
    ['83,5', 83.5],
    ['1:23.5', 83.5],
    ['1:02:03', 3723],
    [' 2:00 ', 120],
    ['75:00', 4500],
  ])('%j is %f s', (text, seconds) => expect(parseTime(text)).toBeCloseTo(seconds, 9));

  it.each(['', 'x', '1:60', '1:60:00', '-3', '1e3', '1:2:3:4', '0x10', ':5'])('%j is none', (text) =>
    expect(parseTime(text)).toBeNaN(),
  );

  it('what a clock shows can be typed back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 400_000 }), (tenths) => {
        expect(parseTime(clock(tenths / 10))).toBeCloseTo(tenths / 10, 6);
      }),
    );
  });
});

describe('a typed part', () => {
  it('lies within the sound, its start before its end; else the message says what is accepted', () => {
    expect(parseRange('1', '0:02.5', 10)).toEqual({ from: 1, to: 2.5 });
    // The end as a clock rounds it.
    expect(parseRange('1', '9.98', 9.96)).toEqual({ from: 1, to: 9.96 });
    for (const [from, to] of [
      ['2', '1'],
      ['1', '1'],
      ['', '2'],
      ['0', '11'],
      ['soon', '2'],
    ] as const) {
      expect(parseRange(from, to, 10)).toEqual({
        error: 'Times are seconds, m:ss or h:mm:ss from 0:00 to 0:10.0, the first before the second',
      });
    }
  });
});

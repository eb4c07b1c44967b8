import { describe, expect, it } from 'vitest';
import { byteSize, clock, figure, signed, withUnit } from './figures';

describe('figures for people', () => {
  it.each([
    [-23, 1, '−23.0'],
    [-0.04, 1, '0.0'],
    [null, 1, '—'],
    [3.14159, 2, '3.14'],
  ])('%s with %i decimals', (value, decimals, text) => expect(figure(value, decimals)).toBe(text));

  it('changes always have a sign', () => {
    expect([signed(3), signed(-3), signed(0), signed(0.01), signed(null)]).toEqual([
      '+3.0',
      '−3.0',
      '±0.0',
      '±0.0',
      '—',
    ]);
    expect(withUnit(-1, 'dBTP')).toBe('−1.0 dBTP');
  });

  it.each([
    [0, 1, '0:00.0'],
    [59.96, 1, '1:00.0'],
    [3599.99, 1, '1:00:00.0'],
    [125.4, 0, '2:05'],
  ])('time %f', (seconds, decimals, text) => expect(clock(seconds, decimals)).toBe(text));

  it.each([
    [999, '999 B'],
    [3_840_000, '3.8 MB'],
    [999_999_999, '1.0 GB'],
  ])('%i bytes', (bytes, text) => expect(byteSize(bytes)).toBe(text));
});

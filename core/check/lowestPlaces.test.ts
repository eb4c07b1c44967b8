import { describe, expect, it } from 'vitest';
import { overRestText } from '@/core/text/overRest';
import { lowestPlaces } from './lowestPlaces';

describe('the places where speech lies lowest', () => {
  const distances = new Float32Array(600).fill(12);
  distances.fill(NaN, 300, 400);
  distances[50] = 3;
  distances[55] = 4;
  distances[200] = 1;
  distances[500] = 6;

  it('are told with the lowest first, those near each other once', () => {
    const found = lowestPlaces(distances, 10, 3);
    expect(found).toEqual([
      { at: 20, lu: 1 },
      { at: 5, lu: 3 },
      { at: 50, lu: 6 },
    ]);
  });

  it('are none where nobody speaks, and no more than there are', () => {
    expect(lowestPlaces(new Float32Array(100).fill(NaN), 10, 3)).toEqual([]);
    expect(lowestPlaces(Float32Array.of(4), 10, 3)).toEqual([{ at: 0, lu: 4 }]);
  });

  it('are none where nothing sounds beside speech', () => {
    expect(lowestPlaces(new Float32Array(100).fill(60), 10, 3)).toEqual([]);
    expect(overRestText(60)).toBe('60 LU or more');
    expect(overRestText(-60)).toBe('−60 LU or less');
    expect(overRestText(12.34)).toBe('+12.3 LU');
  });
});

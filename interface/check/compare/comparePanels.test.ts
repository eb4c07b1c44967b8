import { describe, expect, it } from 'vitest';
import { levelDifference } from '@/core/loudness/levelDifference';
import { COMPARE_PANELS, type CompareData } from './comparePanels';

/** A steady sound, and another that is 6 dB louder in its second half. */
const steady = new Float64Array(3000).fill(960 * 10 ** -2.3);
const louder = steady.map((e, k) => (k < 1500 ? e : e * 10 ** 0.6));
const sound = (energy: Float64Array) => ({ energy, sampleRate: 48_000 });
const data: CompareData = {
  difference: levelDifference(sound(steady), sound(louder), 0),
  ...{ shiftDb: 0, overLu: 1, horizon: -23 },
};
const panel = (id: string) => COMPARE_PANELS.find((one) => one.id === id)!;
const shapes = (id: string, of: CompareData) => panel(id).shapes(of, { from: 0, to: 60 }, 600);
const bars = (of: CompareData) =>
  shapes('difference', of).flatMap((shape) => (shape.kind === 'rect' ? [shape] : []));

describe('two sounds, drawn beside each other', () => {
  it('are two lines of which the louder lies higher', () => {
    const [own, other] = shapes('levels', data)
      .flatMap((shape) => (shape.kind === 'line' ? [shape] : []))
      .slice(-2);
    const yAt = (line: typeof own, x: number): number => line!.points[x]![1];
    expect(yAt(own, 100)).toBeCloseTo(yAt(other, 100), 6);
    expect(yAt(other, 500)).toBeLessThan(yAt(own, 500));
    expect(other!.dash).toBeDefined();
  });

  it('differ where they differ, in height and in colour', () => {
    const [early, late] = [bars(data).find(({ x }) => x === 100)!, bars(data).find(({ x }) => x === 500)!];
    expect(early).toMatchObject({ height: 1, colour: 'sheet-wave' });
    expect(late.height).toBeGreaterThan(20);
    expect(late.colour).toBe('level-over');
    // With the louder brought down, it is the first half that is under.
    const matched = bars({ ...data, shiftDb: -6 });
    expect(matched.find(({ x }) => x === 100)!.colour).toBe('level-under');
    expect(matched.find(({ x }) => x === 500)!.colour).toBe('sheet-wave');
  });
});

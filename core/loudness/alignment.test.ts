import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { noise } from '@/core/testing/signals';
import { align, alignFrames } from './alignment';
import { differentPlaces, levelDifference } from './levelDifference';

const RATE = 48_000;
const FRAMES = RATE / 50;

/** Energies of a sound whose level goes up and down at random, one for every 20 ms. */
function course(seconds: number, seed: number): Float64Array {
  const steps = noise(Math.ceil(seconds * 2) + 1, 12, seed);
  return Float64Array.from({ length: seconds * 50 }, (_, k) => {
    const at = k / 25;
    const [low, part] = [Math.floor(at), at % 1];
    const db = -30 + steps[low]! * (1 - part) + steps[low + 1]! * part;
    return FRAMES * 10 ** (db / 10);
  });
}

const sound = (energy: Float64Array) => ({ energy, sampleRate: RATE });
const gained = (energy: Float64Array, db: number): Float64Array => energy.map((e) => e * 10 ** (db / 10));

describe('two sounds', () => {
  it('are found in each other wherever they lie, whatever the gain between them', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1500 }),
        fc.integer({ min: 1, max: 40 }),
        fc.integer({ min: -20, max: 20 }),
        fc.boolean(),
        (cut, seed, gainDb, first) => {
          const whole = course(90, seed);
          const part = gained(whole.subarray(cut, cut + 2500), gainDb);
          const [found] = first ? align(sound(whole), sound(part)) : align(sound(part), sound(whole));
          expect(found!.offsetSeconds).toBeCloseTo(((first ? -1 : 1) * cut) / 50, 2);
          expect(found!.alike).toBeGreaterThan(0.95);
        },
      ),
      { numRuns: 20 },
    );
  });

  it('of an hour are found in each other as well', () => {
    const whole = course(3600, 5);
    const later = new Float64Array(whole.length + 613).fill(1e-9);
    later.set(whole, 613);
    expect(align(sound(whole), sound(later))[0]!.offsetSeconds).toBeCloseTo(12.26, 2);
  });

  it('that have nothing in common are not alike; with nothing to go by there is no offset', () => {
    expect(align(sound(course(60, 1)), sound(course(60, 2)))[0]?.alike ?? 0).toBeLessThan(0.8);
    expect(align(sound(course(1, 1)), sound(course(60, 1)))).toEqual([]);
    expect(align(sound(new Float64Array(5000)), sound(new Float64Array(5000)))).toEqual([]);
  });

  it('are put beside each other to the frame', () => {
    const x = noise(6000, 0.5, 3);
    expect(alignFrames(x.slice(1234, 4234), x)).toBe(1234);
    expect(alignFrames(noise(2000, 0.5, 4), noise(4000, 0.5, 9))).toBeNull();
  });
});

describe('the difference between two sounds', () => {
  const whole = course(60, 7);

  it('is the gain between them, everywhere', () => {
    const difference = levelDifference(sound(whole), sound(gained(whole, -4)), 0);
    difference.a.forEach((own, k) => expect(difference.b[k]! - own).toBeCloseTo(-4, 3));
    expect(differentPlaces(difference, 3, 0)).toHaveLength(1);
    expect(differentPlaces(difference, 3, 4)).toEqual([]);
  });

  it('is told where it is, and how large', () => {
    const louder = whole.slice();
    louder.set(gained(whole.subarray(1000, 1500), 9), 1000);
    const places = differentPlaces(levelDifference(sound(whole), sound(louder), 0), 6, 0);
    expect(places).toHaveLength(1);
    expect(places[0]!.lu).toBeCloseTo(9, 2);
    expect(places[0]!.from).toBeGreaterThan(19);
    expect(places[0]!.to).toBeLessThan(31);
  });

  it('tells louder and quieter apart where one follows on the other', () => {
    const both = whole.slice();
    both.set(gained(whole.subarray(1000, 1500), 9), 1000);
    both.set(gained(whole.subarray(1500, 2000), -9), 1500);
    const places = differentPlaces(levelDifference(sound(whole), sound(both), 0), 3, 0);
    expect(places.map(({ lu }) => Math.sign(lu!))).toEqual([1, -1]);
  });

  it('says where one of them is silent, and finds its way past an offset', () => {
    const later = new Float64Array(whole.length + 500);
    later.set(whole, 500);
    const difference = levelDifference(sound(whole), sound(later), 10);
    difference.a.forEach((own, k) => expect(difference.b[k]!).toBeCloseTo(own, 5));
    const gone = whole.slice();
    gone.fill(0, 1000, 1500);
    const places = differentPlaces(levelDifference(sound(whole), sound(gone), 0), 60, 0);
    expect(places.map(({ lu }) => lu)).toEqual([null]);
  });
});

import { hopMeans, momentaryWindows } from './windows';
import type { LevelTrack } from './sound';
import { MOMENTARY_SUB_BLOCKS, PEAK_BLOCKS_PER_SECOND, SUB_BLOCKS_PER_SECOND } from './subBlocks';

/** How two sounds lie to each other. */
export interface Alignment {
  /** What is at a time in the first is so much later in the second, seconds. */
  readonly offsetSeconds: number;
  /** How alike the courses of their levels are there: 1 the same, 0 nothing in common. */
  readonly alike: number;
}

/** Levels under this are as good as silence, dB. */
const FLOOR_DB = -70;
/** So many values at most are held against each other at every offset. */
const MOST_COARSE = 4000;
/** So many of the best offsets are looked at more closely. */
const CANDIDATES = 6;
/** Two that are nearer to each other are one, blocks of 100 ms. */
const APART = 3;
/** Of the shorter sound so much has to lie beside the other, and so much at least, seconds. */
const LEAST_PART = 0.5;
const LEAST_SECONDS = 2;

const level = (power: number): number => Math.max(FLOOR_DB, 10 * Math.log10(Math.max(1e-12, power)));

/** Means of so many values each. */
function thinned(values: Float64Array, step: number): Float64Array {
  if (step === 1) return values;
  return Float64Array.from({ length: Math.floor(values.length / step) }, (_, k) => {
    let sum = 0;
    for (let i = k * step; i < (k + 1) * step; i++) sum += values[i]!;
    return sum / step;
  });
}

/** Correlation of levels at offsets; sums over any part come from running sums. */
class Course {
  private readonly sums: Float64Array;
  private readonly squares: Float64Array;

  constructor(readonly values: Float64Array) {
    this.sums = new Float64Array(values.length + 1);
    this.squares = new Float64Array(values.length + 1);
    values.forEach((value, k) => {
      this.sums[k + 1] = this.sums[k]! + value;
      this.squares[k + 1] = this.squares[k]! + value * value;
    });
  }

  /** Pearson’s coefficient of this with another that lies `offset` values later; `null` where too little lies beside it. */
  with(other: Course, offset: number, least: number): number | null {
    const from = Math.max(0, -offset);
    const to = Math.min(this.values.length, other.values.length - offset);
    const n = to - from;
    if (n < least) return null;
    let product = 0;
    for (let k = from; k < to; k++) product += this.values[k]! * other.values[k + offset]!;
    const sum = ({ sums }: Course, at: number): number => sums[at + n]! - sums[at]!;
    const square = ({ squares }: Course, at: number): number => squares[at + n]! - squares[at]!;
    const [a, b] = [sum(this, from), sum(other, from + offset)];
    const variance = (square(this, from) - (a * a) / n) * (square(other, from + offset) - (b * b) / n);
    return variance > 1e-6 ? (product - (a * b) / n) / Math.sqrt(variance) : 0;
  }
}

interface Found {
  readonly offset: number;
  readonly alike: number;
  /** How unlikely that is by chance: Fisher’s transformation times the root of how much lies beside each other. */
  readonly weight: number;
}

/** The offsets at which two courses are most alike, the best first. @param apart of two so near only the better counts */
function best(
  a: Course,
  b: Course,
  offsets: Iterable<number>,
  least: number,
  most: number,
  apart = 0,
): Found[] {
  const found: Found[] = [];
  for (const offset of offsets) {
    const beside = Math.min(a.values.length, b.values.length - offset) - Math.max(0, -offset);
    const alike = a.with(b, offset, least);
    if (alike === null || alike <= 0) continue;
    found.push({ offset, alike, weight: Math.atanh(Math.min(alike, 0.999_999)) * Math.sqrt(beside) });
  }
  const kept: Found[] = [];
  for (const one of found.sort((x, y) => y.weight - x.weight)) {
    if (kept.length === most) break;
    if (kept.every(({ offset }) => Math.abs(offset - one.offset) > apart)) kept.push(one);
  }
  return kept;
}

const range = (from: number, to: number): number[] =>
  Array.from({ length: to - from + 1 }, (_, i) => from + i);

type Energies = Pick<LevelTrack, 'energy' | 'sampleRate'>;

/**
 * Finds where one sound lies in another by the course of their levels, whatever the gain between them: Pearson’s coefficient
 * of the levels in dB, first in coarse steps over all offsets, then in finer ones around the best. To 20 ms.
 * @returns the places that come into question, the likeliest first; none where one of them is too short, or there is nothing
 * to go by
 */
export function align(a: Energies, b: Energies): Alignment[] {
  const hops = [a, b].map(({ energy, sampleRate }) => hopMeans(energy, sampleRate).map(level));
  const [short, long] = hops.map(({ length }) => length).sort((x, y) => x - y) as [number, number];
  if (short < LEAST_SECONDS * PEAK_BLOCKS_PER_SECOND) return [];
  const least = (perSecond: number): number =>
    Math.max(LEAST_SECONDS * perSecond, (LEAST_PART * short * perSecond) / PEAK_BLOCKS_PER_SECOND);
  const step = Math.max(1, Math.ceil(long / MOST_COARSE));
  const [coarseA, coarseB] = hops.map((values) => new Course(thinned(values, step))) as [Course, Course];
  const everywhere = range(-coarseA.values.length + 1, coarseB.values.length - 1);
  const coarse = best(
    ...([coarseA, coarseB, everywhere, least(PEAK_BLOCKS_PER_SECOND / step)] as const),
    CANDIDATES,
    Math.ceil(APART / step),
  );
  const [hopA, hopB] = hops.map((values) => new Course(values)) as [Course, Course];
  const [fineA, fineB] = [a, b].map(
    ({ energy, sampleRate }) => new Course(momentaryWindows(energy, sampleRate).map(level)),
  ) as [Course, Course];
  const perHop = SUB_BLOCKS_PER_SECOND / PEAK_BLOCKS_PER_SECOND;
  return coarse
    .flatMap(({ offset }): (Found & Alignment)[] => {
      const near = range((offset - 1) * step, (offset + 1) * step);
      const [hop] = best(hopA, hopB, near, least(PEAK_BLOCKS_PER_SECOND), 1);
      if (!hop) return [];
      const around = range((hop.offset - 1) * perHop, (hop.offset + 1) * perHop);
      const [fine] = best(fineA, fineB, around, least(SUB_BLOCKS_PER_SECOND) - MOMENTARY_SUB_BLOCKS, 1);
      return fine ? [{ ...fine, offsetSeconds: fine.offset / SUB_BLOCKS_PER_SECOND }] : [];
    })
    .sort((x, y) => y.weight - x.weight)
    .map(({ offsetSeconds, alike }) => ({ offsetSeconds, alike }));
}

/**
 * How many frames later a sound is found in another, by the correlation of their samples.
 * @param a some of the first sound
 * @param b of the second, with as many more frames as there are offsets to try
 * @returns frames from the start of `b`; `null` where nothing fits
 */
export function alignFrames(a: Float32Array, b: Float32Array): number | null {
  let best: { offset: number; match: number } | null = null;
  const own = a.reduce((sum, x) => sum + x * x, 0);
  for (let offset = 0; offset + a.length <= b.length; offset++) {
    let product = 0;
    let other = 0;
    for (let i = 0; i < a.length; i++) {
      const y = b[offset + i]!;
      product += a[i]! * y;
      other += y * y;
    }
    const match = own > 0 && other > 0 ? product / Math.sqrt(own * other) : 0;
    if (!best || match > best.match) best = { offset, match };
  }
  return best && best.match > 0.5 ? best.offset : null;
}

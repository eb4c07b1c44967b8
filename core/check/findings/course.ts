import { lufsToMeanSquare, meanSquareToLufs } from '@/core/loudness/decibels';
import { integrated } from '@/core/loudness/gating';
import { blocksWithin, mergeRanges, type TimeRange } from '@/core/loudness/levelTrack';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { gatingBlocks, hopMeans } from '@/core/loudness/windows';
import { clock, figure, signed, withUnit } from '@/core/text/figures';
import { finding, type Finding } from './finding';
import type { CheckMaterial } from './material';
import type { Thresholds } from './thresholds';

/** How much of either side of a cut is listened to, and how much of that has to sound, blocks of 100 ms. */
const SIDE_BLOCKS = 40;
const LEAST_SOUNDING = 8;
/** What lies so far under the loudest of its side is a pause, as a power. */
const PAUSE = 10 ** (-20 / 10);
/** A side so far under the programme is a pause, not a level: as for the loudness range (EBU Tech 3342). */
const PAUSE_LU = 20;
/** Cuts closer to each other than this are one, seconds. */
const ONE_CUT_SECONDS = 1;

/**
 * What sounds in some blocks, pauses left out; `null` where there is too little of it.
 * @param quiet mean square under which it is a pause
 */
function sounding(blocks: Float64Array, quiet: number, from: number, to: number): Float64Array | null {
  let most = 0;
  for (let k = from; k < to; k++) most = Math.max(most, blocks[k]!);
  const gate = Math.max(quiet, most * PAUSE);
  const heard = blocks.subarray(from, to).filter((z) => z > gate);
  return heard.length >= LEAST_SOUNDING ? heard : null;
}

const meanOf = (values: Float64Array): number => values.reduce((sum, one) => sum + one, 0) / values.length;

/** Loudness of what sounds in some blocks, LUFS: see {@link sounding}. */
function soundingLufs(blocks: Float64Array, quiet: number, from: number, to: number): number | null {
  const heard = sounding(blocks, quiet, from, to);
  return heard && meanSquareToLufs(meanOf(heard));
}

interface Jump {
  /** Block that begins at or after the cut, and the one that ends at or before it. */
  readonly at: number;
  readonly before: number;
  readonly after: number;
}

/** The loudness before a cut and after it. @param end of what comes before, `begin` of what comes after, blocks */
function jumpAt(blocks: Float64Array, quiet: number, end: number, begin: number): Jump | null {
  const before = soundingLufs(blocks, quiet, Math.max(0, end - SIDE_BLOCKS), end);
  const after = soundingLufs(blocks, quiet, begin, Math.min(blocks.length, begin + SIDE_BLOCKS));
  return before === null || after === null ? null : { at: begin, before, after };
}

const sizeOf = ({ before, after }: Jump): number => Math.abs(after - before);

/** At the cuts that are known. */
function jumpsAtCuts(
  blocks: Float64Array,
  quiet: number,
  cuts: readonly number[],
): { jump: Jump; at: number }[] {
  return cuts.flatMap((at) => {
    const block = at * PEAK_BLOCKS_PER_SECOND;
    const jump = jumpAt(blocks, quiet, Math.floor(block + 1e-6), Math.ceil(block - 1e-6));
    return jump ? [{ jump, at }] : [];
  });
}

/** By how much the nearest blocks that sound before a place and after it are apart, LU. */
function closeBy(blocks: Float64Array, quiet: number, at: number): number {
  const mean = (first: number, step: 1 | -1): number => {
    let [sum, count] = [0, 0];
    for (let k = first; count < LEAST_SOUNDING && k >= 0 && k < blocks.length; k += step) {
      if (blocks[k]! <= quiet) continue;
      sum += blocks[k]!;
      count++;
    }
    return sum / Math.max(1, count);
  };
  return 10 * Math.abs(Math.log10(Math.max(1e-12, mean(at, 1)) / Math.max(1e-12, mean(at - 1, -1))));
}

/** By how much the levels on both sides of a place are apart on average, LU: it falls off from a jump faster than loudness does. */
function levelStep(blocks: Float64Array, quiet: number, k: number): number {
  const level = (from: number, to: number): number => {
    const heard = sounding(blocks, quiet, Math.max(0, from), Math.min(blocks.length, to));
    return heard ? meanOf(heard.map((z) => 10 * Math.log10(z))) : 0;
  };
  return Math.abs(level(k, k + SIDE_BLOCKS) - level(k - SIDE_BLOCKS, k));
}

/**
 * Where the sound itself changes at once: the sides are apart, and so are what lies close before and close after, which tells a
 * jump from a slow rise. Pauses count on neither side; of neighbouring places the one where levels are furthest apart is the jump.
 */
function jumpsInSound(blocks: Float64Array, quiet: number, limit: number): { jump: Jump; at: number }[] {
  const found: { jump: Jump; at: number; step: number }[] = [];
  for (let k = LEAST_SOUNDING; k + LEAST_SOUNDING <= blocks.length; k++) {
    const jump = jumpAt(blocks, quiet, k, k);
    if (!jump || sizeOf(jump) < limit) continue;
    if (closeBy(blocks, quiet, k) < limit / 2) continue;
    const last = found.at(-1);
    const one = { jump, at: k / PEAK_BLOCKS_PER_SECOND, step: levelStep(blocks, quiet, k) };
    if (!last || k - last.jump.at > SIDE_BLOCKS) found.push(one);
    else if (one.step > last.step) found[found.length - 1] = one;
  }
  return found;
}

/** Jumps of loudness from one clip or scene to the next. */
export function jumps(
  { energy, sampleRate, cuts, figures }: CheckMaterial,
  { jumpLu }: Thresholds,
): Finding[] {
  const blocks = hopMeans(energy, sampleRate);
  const quiet = lufsToMeanSquare((figures.integratedLufs ?? -50) - PAUSE_LU);
  const all = cuts ? jumpsAtCuts(blocks, quiet, cuts) : jumpsInSound(blocks, quiet, jumpLu);
  const found: { jump: Jump; at: number }[] = [];
  for (const one of all.filter(({ jump }) => sizeOf(jump) >= jumpLu).sort((a, b) => a.at - b.at)) {
    const last = found.at(-1);
    if (!last || one.at - last.at > ONE_CUT_SECONDS) found.push(one);
    else if (sizeOf(one.jump) > sizeOf(last.jump)) found[found.length - 1] = one;
  }
  return found.map(({ jump: { before, after }, at }) =>
    finding({
      ...{ kind: 'jump', from: at, to: at },
      ...{ value: after - before, limit: jumpLu, unit: 'LU', weight: 'look' },
      sentence: `${signed(after - before)} LU at ${clock(at)}: ${withUnit(before, 'LUFS')} before, ${withUnit(after, 'LUFS')} after.`,
    }),
  );
}

/** Level is followed in pieces of this length, seconds, over at least so many of them. */
const PIECE_SECONDS = 30;
const LEAST_PIECES = 8;
/** So much of the change has to be a steady one (coefficient of determination). */
const STEADY = 0.7;

/** The parts of ranges that lie within a piece. @param first the first of them that ends behind its start */
function rangesFrom(ranges: readonly TimeRange[], first: number, piece: TimeRange): TimeRange[] {
  const within: TimeRange[] = [];
  for (let i = first; i < ranges.length && ranges[i]!.from < piece.to; i++)
    within.push({ from: Math.max(ranges[i]!.from, piece.from), to: Math.min(ranges[i]!.to, piece.to) });
  return within;
}

/** A level that goes up or down steadily from start to end: of speech where it is known, else of all of it. */
export function drifts(material: CheckMaterial, { driftLu }: Thresholds): Finding[] {
  const { seconds, speech, energy, sampleRate } = material;
  const pieces = Math.floor(seconds / PIECE_SECONDS);
  // Once for all pieces: of a long programme each would go over all of it.
  const blocks = gatingBlocks(energy, sampleRate);
  const spoken = speech && mergeRanges(speech);
  let next = 0;
  const points: { x: number; y: number }[] = [];
  for (let i = 0; i < pieces; i++) {
    const piece = { from: i * PIECE_SECONDS, to: (i + 1) * PIECE_SECONDS };
    while (spoken && next < spoken.length && spoken[next]!.to <= piece.from) next++;
    const ranges = spoken ? rangesFrom(spoken, next, piece) : [piece];
    const { integratedLufs } = integrated(blocksWithin(blocks, ranges, seconds).blocks);
    if (integratedLufs !== null) points.push({ x: i, y: integratedLufs });
  }
  if (points.length < LEAST_PIECES) return [];
  const mean = (of: (point: { x: number; y: number }) => number): number =>
    points.reduce((sum, point) => sum + of(point), 0) / points.length;
  const [mx, my] = [mean(({ x }) => x), mean(({ y }) => y)];
  const sxy = mean(({ x, y }) => (x - mx) * (y - my));
  const sxx = mean(({ x }) => (x - mx) ** 2);
  const syy = mean(({ y }) => (y - my) ** 2);
  const value = (sxy / sxx) * (points.at(-1)!.x - points[0]!.x);
  if (Math.abs(value) < driftLu || syy === 0 || sxy ** 2 / (sxx * syy) < STEADY) return [];
  return [
    finding({
      ...{
        kind: 'drift',
        from: 0,
        to: seconds,
        whole: true,
        value,
        limit: driftLu,
        unit: 'LU',
        weight: 'look',
      },
      sentence: `${speech ? 'Speech' : 'The level'} drifts by ${signed(value)} LU from start to end, ${figure(Math.abs(value / seconds) * 60, 2)} LU a minute.`,
    }),
  ];
}

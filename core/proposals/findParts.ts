import { ABSOLUTE_GATE_LUFS } from '@/core/loudness/gating';
import { lufsToMeanSquare, meanSquareToLufs } from '@/core/loudness/decibels';
import { noiseFloor } from '@/core/loudness/details';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { PlaceTold } from './explain';
import type { MeasuredClip } from './proposal';
import { BLOCK_SECONDS, HOPS_PER_SECOND } from '@/core/measuring/clipReading';
import { restLufs, sectionRow, type SectionRequest, type SectionRow } from './sectionLevels';

/** A part stands out when it is this far from the rest, unless another distance is asked for, LU. */
export const STANDS_OUT_LU = 6;
/** A part goes on while its loudness is this share of that distance away. */
const GOES_ON = 0.5;
/** Pauses shorter than this do not end a part, blocks. */
const PAUSE = 10;
/** Blocks over which the loudness is steadied: a syllable is no part. */
const STEADY = 5;
/** A part that is quieter than the rest may be the end of a phrase: it must last, seconds. */
const QUIET_SECONDS = 1;
/** So far the noise floor must lie under a clip's loudness for its pauses to be told from its sound, LU. */
const HAS_PAUSES_LU = 12;
/** What is so near the noise floor is a pause, LU. */
const PAUSE_LU = 6;

/** The blocks of a clip in which there is more than a pause: which they are, and how loud. */
interface Blocks {
  readonly index: Int32Array;
  /** LUFS. */
  readonly level: Float64Array;
}

function soundingBlocks({ blocks, figures }: ClipMeasurement): Blocks {
  const floor = noiseFloor(blocks) ?? ABSOLUTE_GATE_LUFS;
  const pauses = (figures.integratedLufs ?? floor) - floor >= HAS_PAUSES_LU;
  const least = lufsToMeanSquare(Math.max(ABSOLUTE_GATE_LUFS, pauses ? floor + PAUSE_LU : -Infinity));
  const index = new Int32Array(blocks.length);
  const level = new Float64Array(blocks.length);
  let count = 0;
  for (let k = 0; k < blocks.length; k++) {
    if (blocks[k]! <= least) continue;
    index[count] = k;
    level[count++] = meanSquareToLufs(blocks[k]!)!;
  }
  return { index: index.subarray(0, count), level: level.subarray(0, count) };
}

function median(values: Float64Array | Float32Array): number {
  const sorted = values.slice().sort();
  return sorted[(sorted.length - 1) >> 1]!;
}

/** Each block's loudness, steadied by the median of those around it. */
function steadied({ index, level }: Blocks): Float64Array {
  const around = new Float64Array(STEADY);
  return level.map((_, i) => {
    let count = 0;
    for (let j = Math.max(0, i - (STEADY >> 1)); j <= i + (STEADY >> 1) && j < level.length; j++) {
      if (Math.abs(index[j]! - index[i]!) > PAUSE) continue;
      // Few enough to be put in order as they come.
      let place = count++;
      for (; place > 0 && around[place - 1]! > level[j]!; place--) around[place] = around[place - 1]!;
      around[place] = level[j]!;
    }
    return around[(count - 1) >> 1]!;
  });
}

/** Blocks from one to another, all on one side of the usual loudness. */
interface Run {
  readonly from: number;
  readonly to: number;
  readonly over: boolean;
}

/** Runs of blocks that reach the distance from the usual loudness, and go on while they keep half of it. */
function runs(blocks: Blocks, usual: number, distance: number): Run[] {
  const level = steadied(blocks);
  const all: Run[] = [];
  let run: (Run & { to: number; reached: boolean }) | null = null;
  const end = (): void => {
    if (run?.reached) all.push({ from: run.from, to: run.to, over: run.over });
    run = null;
  };
  for (let i = 0; i < level.length; i++) {
    const index = blocks.index[i]!;
    const off = level[i]! - usual;
    const over = off > 0;
    if (run && (index - run.to > PAUSE || over !== run.over || Math.abs(off) < distance * GOES_ON)) end();
    if (Math.abs(off) < distance * GOES_ON) continue;
    run ??= { from: index, to: index, over, reached: false };
    run.to = index;
    run.reached ||= Math.abs(off) >= distance;
  }
  end();
  return all;
}

/** How far around a place its edge is looked for, tenths of a second. */
const EDGE_REACH = 4;

/**
 * Where a part begins or ends, to a tenth of a second: as many as can be of the peaks on its side are nearer to its usual
 * peak than to that of the rest, and on the other side the other way about.
 * @param around where windows of 400 ms say it is, seconds
 * @param inPart whether a peak looks like the part; `null` when it is that of a pause, which may be on either side
 */
function edgeNear(
  { truePeaks, lengthSeconds }: ClipMeasurement,
  around: number,
  side: 'start' | 'end',
  inPart: (peak: number) => boolean | null,
): number {
  const at = Math.round(around * PEAK_BLOCKS_PER_SECOND);
  const fits = (k: number, edge: number): boolean => {
    const looks = inPart(truePeaks[k] ?? 0);
    return looks === null || looks === (side === 'start' ? k >= edge : k < edge);
  };
  let best = { edge: at, score: -1 };
  for (const away of Array.from(
    { length: 2 * EDGE_REACH + 1 },
    (_, i) => (i % 2 ? 1 : -1) * ((i + 1) >> 1),
  )) {
    const edge = at + away;
    let score = 0;
    for (let k = at - 2 * EDGE_REACH; k < at + 2 * EDGE_REACH; k++) if (fits(k, edge)) score++;
    if (score > best.score) best = { edge, score };
  }
  const seconds = best.edge / PEAK_BLOCKS_PER_SECOND;
  // Near an edge of the clip the part begins or ends with it.
  return seconds < BLOCK_SECONDS / 2
    ? 0
    : seconds > lengthSeconds - BLOCK_SECONDS / 2
      ? lengthSeconds
      : seconds;
}

/** What was found last in each measurement: lists ask for thousands again and again. */
const lastFound = new WeakMap<
  ClipMeasurement,
  { readonly distance: number; readonly parts: readonly TimeRange[] }
>();

/**
 * Finds the parts of a clip whose loudness stands out from the rest: louder or quieter than what is usual in it (the median
 * of its momentary loudness, pauses aside) by a distance. In order, not overlapping.
 * @param distance LU, over 0
 * @returns seconds of the clip
 */
export function standingOut(measurement: ClipMeasurement, distance = STANDS_OUT_LU): readonly TimeRange[] {
  const known = lastFound.get(measurement);
  if (known?.distance === distance) return known.parts;
  const parts = search(measurement, distance);
  lastFound.set(measurement, { distance, parts });
  return parts;
}

function search(measurement: ClipMeasurement, distance: number): TimeRange[] {
  const blocks = soundingBlocks(measurement);
  if (blocks.level.length === 0) return [];
  const { truePeaks } = measurement;
  const usual = median(blocks.level);
  const usualPeak = median(Float64Array.from(blocks.index, (k) => truePeaks[k + 1] ?? 0));
  const parts: TimeRange[] = [];
  for (const { from, to, over } of runs(blocks, usual, distance)) {
    // A block stands out as soon as a part of it does: of a loud one the end, or the beginning; of a quiet one nearly all.
    const [first, last] = over
      ? [from / HOPS_PER_SECOND + 0.75 * BLOCK_SECONDS, to / HOPS_PER_SECOND + 0.25 * BLOCK_SECONDS]
      : [from / HOPS_PER_SECOND + 0.25 * BLOCK_SECONDS, to / HOPS_PER_SECOND + 0.75 * BLOCK_SECONDS];
    if (!over && last - first < QUIET_SECONDS) continue;
    const firstPeak = Math.ceil(first * PEAK_BLOCKS_PER_SECOND);
    const own = median(
      truePeaks.subarray(firstPeak, Math.max(firstPeak + 1, Math.floor(last * PEAK_BLOCKS_PER_SECOND))),
    );
    const between = Math.sqrt(own * usualPeak);
    const pause = Math.min(own, usualPeak) / 4;
    const inPart = (peak: number): boolean | null => (peak < pause ? null : peak > between === over);
    const range = {
      from: edgeNear(measurement, first, 'start', inPart),
      to: edgeNear(measurement, last, 'end', inPart),
    };
    const before = parts.at(-1);
    const start = Math.max(range.from, before?.to ?? 0);
    if (range.to - start > 1.5 / PEAK_BLOCKS_PER_SECOND) parts.push({ from: start, to: range.to });
  }
  return parts;
}

/**
 * Proposes a gain for every part of a clip that stands out, such that it is as loud as the rest; what turns out to be
 * nearer than the distance once it is measured by itself is left alone.
 */
export function proposeParts(
  entry: MeasuredClip,
  request: Omit<SectionRequest, 'goal'>,
  { distance = STANDS_OUT_LU, place }: { distance?: number; place?: PlaceTold } = {},
): SectionRow[] {
  const { measurement } = entry;
  if (!measurement) return [];
  const parts = standingOut(measurement, distance);
  if (parts.length === 0) return [];
  const rest = restLufs({ ...entry, measurement }, parts);
  return parts
    .map((range) => sectionRow(entry, range, { ...request, goal: 'rest' }, { rest, ...(place && { place }) }))
    .filter(({ skipped, overLu }) => skipped === null && overLu !== null && Math.abs(overLu) >= distance);
}

import { ABSOLUTE_GATE_LUFS } from '@/core/loudness/gating';
import { meanSquareToLufs } from '@/core/loudness/decibels';
import { noiseFloor } from '@/core/loudness/details';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import type { ClipMeasurement } from '@/core/render/measureClip';
import type { PlaceTold } from './explain';
import type { MeasuredClip } from './proposal';
import { BLOCK_SECONDS, HOPS_PER_SECOND } from './reading';
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

interface Block {
  readonly index: number;
  readonly lufs: number;
}

/** The blocks in which there is more than a pause. */
function soundingBlocks({ blocks, figures }: ClipMeasurement): Block[] {
  const floor = noiseFloor(blocks) ?? ABSOLUTE_GATE_LUFS;
  const pauses = (figures.integratedLufs ?? floor) - floor >= HAS_PAUSES_LU;
  const least = Math.max(ABSOLUTE_GATE_LUFS, pauses ? floor + PAUSE_LU : -Infinity);
  const found: Block[] = [];
  blocks.forEach((z, index) => {
    const lufs = meanSquareToLufs(z);
    if (lufs !== null && lufs > least) found.push({ index, lufs });
  });
  return found;
}

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor((values.length - 1) / 2)]!;

/** Each block's loudness, steadied by the median of those around it. */
const steadied = (blocks: readonly Block[]): Block[] =>
  blocks.map(({ index }, i) => ({
    index,
    lufs: median(
      blocks
        .slice(Math.max(0, i - (STEADY >> 1)), i + (STEADY >> 1) + 1)
        .filter((other) => Math.abs(other.index - index) <= PAUSE)
        .map(({ lufs }) => lufs),
    ),
  }));

/** Runs of blocks on one side of the usual loudness that reach the distance, and go on while they keep half of it. */
function runs(
  blocks: readonly Block[],
  usual: number,
  distance: number,
): { from: number; to: number; over: boolean }[] {
  const found: { from: number; to: number; over: boolean }[] = [];
  let run: { from: number; to: number; over: boolean; reached: boolean } | null = null;
  const end = (): void => {
    if (run?.reached) found.push({ from: run.from, to: run.to, over: run.over });
    run = null;
  };
  for (const { index, lufs } of blocks) {
    const off = lufs - usual;
    const over = off > 0;
    if (run && (index - run.to > PAUSE || over !== run.over || Math.abs(off) < distance * GOES_ON)) end();
    if (Math.abs(off) < distance * GOES_ON) continue;
    run ??= { from: index, to: index, over, reached: false };
    run.to = index;
    run.reached ||= Math.abs(off) >= distance;
  }
  end();
  return found;
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

/**
 * Finds the parts of a clip whose loudness stands out from the rest: louder or quieter than what is usual in it (the median
 * of its momentary loudness, pauses aside) by a distance. In order, not overlapping.
 * @param distance LU, over 0
 * @returns seconds of the clip
 */
export function standingOut(measurement: ClipMeasurement, distance = STANDS_OUT_LU): TimeRange[] {
  const blocks = soundingBlocks(measurement);
  if (blocks.length === 0) return [];
  const { truePeaks } = measurement;
  const usual = median(blocks.map(({ lufs }) => lufs));
  const usualPeak = median(blocks.map(({ index }) => truePeaks[index + 1] ?? 0));
  const parts: TimeRange[] = [];
  for (const { from, to, over } of runs(steadied(blocks), usual, distance)) {
    // A block stands out as soon as a part of it does: of a loud one the end, or the beginning; of a quiet one nearly all.
    const [first, last] = over
      ? [from / HOPS_PER_SECOND + 0.75 * BLOCK_SECONDS, to / HOPS_PER_SECOND + 0.25 * BLOCK_SECONDS]
      : [from / HOPS_PER_SECOND + 0.25 * BLOCK_SECONDS, to / HOPS_PER_SECOND + 0.75 * BLOCK_SECONDS];
    if (!over && last - first < QUIET_SECONDS) continue;
    const firstPeak = Math.ceil(first * PEAK_BLOCKS_PER_SECOND);
    const own = median([
      ...truePeaks.subarray(firstPeak, Math.max(firstPeak + 1, Math.floor(last * PEAK_BLOCKS_PER_SECOND))),
    ]);
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
  const rest = restLufs({ ...entry, measurement }, parts);
  return parts
    .map((range) => sectionRow(entry, range, { ...request, goal: 'rest' }, { rest, ...(place && { place }) }))
    .filter(({ skipped, overLu }) => skipped === null && overLu !== null && Math.abs(overLu) >= distance);
}

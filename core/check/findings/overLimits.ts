import { amplitudeToDb, meanSquareToLufs } from '@/core/loudness/decibels';
import { meanSquareLimit, peakLimit } from '../judge';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import type { Target } from '../target';

/** A place where a sound goes past what its target allows. */
export interface PlaceOverLimit {
  readonly kind: 'truePeak' | 'momentary' | 'shortTerm';
  /** Seconds. */
  readonly from: number;
  readonly to: number;
  /** How far it goes: dBTP or LUFS. */
  readonly worst: number;
}

/** What such places are read from. */
export interface LevelsOverTime {
  /** True peak of every 100 ms, linear. */
  readonly truePeaks: Float32Array;
  /** Weighted mean squares of the gating blocks: 400 ms every 100 ms. */
  readonly blocks: Float64Array;
  /** The same of 3 s every 100 ms. */
  readonly shortTerm: Float64Array;
}

/** Two that are no further apart are one place to go to, seconds. */
const JOIN_SECONDS = 0.5;

/** Ranges of values over a limit, on the 100 ms grid. @param span seconds that one value stands for */
function over(
  values: Float32Array | Float64Array,
  limit: number,
  span: number,
): { readonly from: number; readonly to: number; readonly worst: number }[] {
  const found: { from: number; to: number; worst: number }[] = [];
  for (let i = 0; i < values.length; i++) {
    const value = values[i]!;
    if (!(value > limit)) continue;
    const from = i / PEAK_BLOCKS_PER_SECOND;
    const last = found.at(-1);
    if (last && from - last.to <= JOIN_SECONDS) {
      last.to = from + span;
      last.worst = Math.max(last.worst, value);
    } else found.push({ from, to: from + span, worst: value });
  }
  return found;
}

/** Where a sound goes past its target’s limits over time, in order. */
export function placesOverLimits(
  { truePeaks, blocks, shortTerm }: LevelsOverTime,
  target: Target,
): PlaceOverLimit[] {
  const { maxTruePeakDbtp, maxMomentaryLufs, maxShortTermLufs } = target;
  const found: PlaceOverLimit[] = over(truePeaks, peakLimit(maxTruePeakDbtp), 0.1).map((slice) => ({
    ...slice,
    kind: 'truePeak',
    worst: amplitudeToDb(slice.worst)!,
  }));
  const loud = (
    kind: PlaceOverLimit['kind'],
    values: Float64Array,
    limit: number | null,
    span: number,
  ): void => {
    if (limit === null) return;
    for (const slice of over(values, meanSquareLimit(limit), span))
      found.push({ ...slice, kind, worst: meanSquareToLufs(slice.worst)! });
  };
  loud('momentary', blocks, maxMomentaryLufs, 0.4);
  loud('shortTerm', shortTerm, maxShortTermLufs, 3);
  return found.sort((a, b) => a.from - b.from);
}

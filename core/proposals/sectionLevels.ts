import { amplitudeToDb } from '@/core/loudness/decibels';
import { largest } from '@/core/loudness/figures';
import { integratedAt, solveGain } from '@/core/loudness/gainSolve';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import { roomOf } from '@/core/programme/clipGain';
import { PART_GAIN } from '@/core/programme/gainField';
import { RAMP_SECONDS } from '@/core/programme/sections';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { signed, withUnit } from '@/core/text/figures';
import { placeInClip, SKIPPED, type PlaceTold } from './explain';
import { held, heldWords, type GainLimit } from './held';
import type { MeasuredClip, SkipReason } from './proposal';
import { BLOCK_SECONDS, gained, HOPS_PER_SECOND } from '@/core/measuring/clipReading';

const HAIR = 1e-9;

/** A part of a clip as it sounds with the clip's gain. */
export interface SectionLevel {
  /** Gated loudness of the blocks that lie within it, ramps aside; of one shorter than that its loudest block. LUFS. */
  readonly lufs: number | null;
  /** It is too short for a block of 400 ms of its own: `lufs` is of the loudest that touches it. */
  readonly short: boolean;
  /** Gated loudness of all that it does not touch, LUFS. */
  readonly restLufs: number | null;
  /** The highest true peak of the tenths of a second that it touches, dBTP. */
  readonly truePeakDbtp: number | null;
}

/** Blocks of which the first begins at a time or later and the last ends by another, seconds. */
function blocksBetween({ blocks }: ClipMeasurement, from: number, to: number): Float64Array {
  const first = Math.max(0, Math.ceil(from * HOPS_PER_SECOND - HAIR));
  return blocks.subarray(
    first,
    Math.max(first, Math.floor((to - BLOCK_SECONDS) * HOPS_PER_SECOND + HAIR) + 1),
  );
}

/** The blocks that count as a part, and whether it is too short for one of its own. */
function blocksOf(
  measurement: ClipMeasurement,
  { from, to }: TimeRange,
  ramp: number,
): { readonly blocks: Float64Array; readonly short: boolean } {
  const own = blocksBetween(measurement, from + ramp, to - ramp);
  if (own.length > 0) return { blocks: own, short: false };
  const reach = BLOCK_SECONDS - 2 * HAIR;
  const loudest = largest(blocksBetween(measurement, from - reach, to + reach));
  return { blocks: loudest > 0 ? Float64Array.of(loudest) : own, short: true };
}

type Measured = MeasuredClip & { readonly measurement: ClipMeasurement };

/**
 * Gated loudness of all of a clip that its parts do not touch, LUFS; `null` when that is nothing.
 * @param parts seconds of the clip
 */
export function restLufs({ clip, measurement }: Measured, parts: readonly TimeRange[]): number | null {
  const rest = measurement.blocks.filter((_, k) => {
    const from = k / HOPS_PER_SECOND;
    return !parts.some((part) => from < part.to - HAIR && from + BLOCK_SECONDS > part.from + HAIR);
  });
  return integratedAt([gained(rest, clip.gain.db)], 0);
}

/**
 * Reads a part of a clip.
 * @param range seconds of the clip
 * @param rest loudness of the rest, where it is known
 * @param ramp length of the ramps into and out of it, seconds
 */
export function sectionLevel(
  entry: Measured,
  range: TimeRange,
  rest = restLufs(entry, [range]),
  ramp = RAMP_SECONDS,
): SectionLevel {
  const { clip, measurement } = entry;
  const { blocks, short } = blocksOf(measurement, range, ramp);
  const peak = amplitudeToDb(
    largest(
      measurement.truePeaks.subarray(
        Math.max(0, Math.floor(range.from * PEAK_BLOCKS_PER_SECOND + HAIR)),
        Math.max(0, Math.ceil(range.to * PEAK_BLOCKS_PER_SECOND - HAIR)),
      ),
    ),
  );
  return {
    lufs: integratedAt([gained(blocks, clip.gain.db)], 0),
    short,
    restLufs: rest,
    truePeakDbtp: peak === null ? null : peak + clip.gain.db,
  };
}

/** How a part stands to the rest of its clip. */
export function overRest(overLu: number): string {
  if (Math.abs(overLu) < 0.05) return 'as loud as the rest';
  return `${withUnit(Math.abs(overLu), 'LU')} ${overLu < 0 ? 'under' : 'over'} the rest`;
}

/** A gain worked out for a part of a clip. */
export interface SectionRow extends SectionLevel {
  readonly clipId: string;
  /** Seconds of the clip. */
  readonly range: TimeRange;
  /** How far it is over the rest, LU; under 0 below it. */
  readonly overLu: number | null;
  /** dB; 0 when skipped. */
  readonly changeDb: number;
  readonly afterLufs: number | null;
  readonly limitedBy: GainLimit;
  readonly skipped: SkipReason | 'noRest' | null;
  readonly sentence: string;
}

const NOTHING: SectionLevel = { lufs: null, short: false, restLufs: null, truePeakDbtp: null };

/** What a part of a clip is brought to. */
export interface SectionRequest {
  /** LUFS; as loud as the rest of its clip. */
  readonly goal: number | 'rest';
  /** True peak that it may not pass when it is raised, dBTP. */
  readonly ceilingDbtp: number;
  /** Length of the ramps into and out of it, seconds: what lies in them does not count. */
  readonly ramp?: number;
}

/**
 * Works out the gain that brings a part of a clip to a level, and explains it.
 * @param rest loudness of the rest of the clip, where it is known
 */
export function sectionRow(
  entry: MeasuredClip,
  range: TimeRange,
  { goal, ceilingDbtp, ramp = RAMP_SECONDS }: SectionRequest,
  { rest, place = placeInClip }: { rest?: number | null; place?: PlaceTold } = {},
): SectionRow {
  const { clip, measurement } = entry;
  const level = measurement ? sectionLevel({ ...entry, measurement }, range, rest, ramp) : NOTHING;
  const { lufs, truePeakDbtp, short } = level;
  const overLu = lufs === null || level.restLufs === null ? null : lufs - level.restLufs;
  const row = { ...level, clipId: clip.id, range, overLu };
  const skip = (skipped: SkipReason | 'noRest', sentence: string): SectionRow => ({
    ...row,
    ...{ changeDb: 0, afterLufs: lufs, limitedBy: null, skipped, sentence },
  });
  if (!measurement) return skip('notMeasured', SKIPPED.notMeasured);
  if (lufs === null || truePeakDbtp === null) return skip('silent', SKIPPED.silent);
  const wantedLufs = goal === 'rest' ? level.restLufs : goal;
  if (wantedLufs === null) return skip('noRest', 'Skipped: the rest of the clip has no loudness.');
  const { blocks } = blocksOf(measurement, range, ramp);
  const wanted = solveGain([gained(blocks, clip.gain.db)], wantedLufs)!.shiftDb;
  // Lowering what is over the ceiling already is no question of the ceiling.
  const own = held(wanted, Math.max(0, ceilingDbtp - truePeakDbtp), roomOf([0], PART_GAIN));
  const { changeDb, limitedBy } = own;
  const afterLufs = lufs + changeDb;
  const told = `From ${place(clip.id, range.from)} to ${place(clip.id, range.to)}`;
  const where =
    overLu === null ? `${told} it is at ${withUnit(lufs, 'LUFS')}` : `${told} it is ${overRest(overLu)}`;
  const how = short ? ' (by its loudest 400 ms)' : '';
  const stopped = heldWords(own, { peak: 'its peak', ceilingDbtp, gain: 'a part’s gain' });
  const then =
    stopped ??
    `${signed(changeDb)} dB brings it ${goal === 'rest' ? 'there' : `to ${withUnit(goal, 'LUFS')}`}`;
  return { ...row, changeDb, afterLufs, limitedBy, skipped: null, sentence: `${where}${how}: ${then}.` };
}

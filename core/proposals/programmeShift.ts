import { integratedAt, solveGain } from '@/core/loudness/gainSolve';
import { roomOf } from '@/core/programme/clipGain';
import { CLIP_GAIN } from '@/core/programme/gainField';
import type { Clip, GainReason } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { signed, withUnit } from '@/core/text/figures';
import { held, heldWords, type GainLimit } from './held';

/** What is known of the programme as it stands. */
export interface ProgrammeLevel {
  /** Weighted mean squares of its gating blocks. */
  readonly blocks: Float64Array;
  readonly truePeakDbtp: number | null;
}

/** One gain on every clip that brings the programme to its target. */
export interface ProgrammeShift {
  readonly shiftDb: number;
  readonly integratedBefore: number | null;
  readonly integratedAfter: number | null;
  readonly truePeakAfter: number | null;
  readonly limitedBy: GainLimit;
  readonly gains: ReadonlyMap<string, { readonly db: number; readonly reason: GainReason }>;
  readonly sentence: string;
}

/**
 * Works out the one change of every audible clip's gain that brings the whole programme to the target's loudness,
 * not past its ceiling and not past what a clip's gain can be.
 * @returns `null` when the programme has nothing to measure
 */
export function proposeProgrammeShift(
  level: ProgrammeLevel,
  clips: readonly Clip[],
  target: Target,
): ProgrammeShift | null {
  const signal = [{ blocks: level.blocks, gainDb: 0 }];
  const solution = solveGain(signal, target.integratedLufs);
  if (!solution || level.truePeakDbtp === null || clips.length === 0) return null;
  const wanted = solution.shiftDb;
  const gains = clips.map((clip) => clip.gain.db);
  const shift = held(wanted, target.maxTruePeakDbtp - level.truePeakDbtp, roomOf(gains, CLIP_GAIN));
  const { changeDb: inRange, limitedBy } = shift;
  const integratedBefore = integratedAt(signal, 0);
  const integratedAfter = integratedAt(signal, inRange);
  const reason: GainReason = {
    kind: 'levelled',
    measure: 'integrated',
    mode: 'programme',
    goal: target.integratedLufs,
    stoppedByCeiling: limitedBy === 'ceiling',
  };
  const stopped = heldWords(shift, {
    peak: 'the programme’s true peak',
    ceilingDbtp: target.maxTruePeakDbtp,
    gain: 'a clip’s gain',
    to: ' to every clip',
  });
  const sentence =
    stopped === null
      ? `${withUnit(integratedBefore, 'LUFS')}, to ${withUnit(target.integratedLufs, 'LUFS')}: ${signed(inRange, 2)} dB on every clip; their balance stays.`
      : `${stopped}.${limitedBy === 'ceiling' ? ' Lower what peaks, then try again.' : ''}`;
  return {
    shiftDb: inRange,
    integratedBefore,
    integratedAfter,
    truePeakAfter: level.truePeakDbtp + inRange,
    limitedBy,
    gains: new Map(clips.map((clip) => [clip.id, { db: clip.gain.db + inRange, reason }])),
    sentence,
  };
}

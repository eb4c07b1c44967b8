import { integratedAt, solveGain } from '@/core/loudness/gainSolve';
import { MAX_CLIP_GAIN_DB, MIN_CLIP_GAIN_DB } from '@/core/programme/gainField';
import type { Clip, GainReason } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { signed, withUnit } from '@/core/text/figures';
import type { GainLimit } from './proposal';

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
  const underCeiling = Math.min(wanted, target.maxTruePeakDbtp - level.truePeakDbtp);
  const inRange = Math.max(
    MIN_CLIP_GAIN_DB - Math.min(...gains),
    Math.min(MAX_CLIP_GAIN_DB - Math.max(...gains), underCeiling),
  );
  const limitedBy: GainLimit =
    inRange !== underCeiling ? 'gainRange' : underCeiling < wanted ? 'ceiling' : null;
  const integratedBefore = integratedAt(signal, 0);
  const integratedAfter = integratedAt(signal, inRange);
  const reason: GainReason = {
    kind: 'levelled',
    measure: 'integrated',
    mode: 'programme',
    goal: target.integratedLufs,
    stoppedByCeiling: limitedBy === 'ceiling',
  };
  const given = `${signed(inRange, 2)} dB on every clip`;
  const sentence =
    limitedBy === 'ceiling'
      ? `${signed(wanted)} dB wanted, ${given}: the programme’s true peak reaches ${withUnit(target.maxTruePeakDbtp, 'dBTP')} first. Lower what peaks, then try again.`
      : limitedBy === 'gainRange'
        ? `${signed(wanted)} dB wanted, ${given}: a clip’s gain goes no further.`
        : `${withUnit(integratedBefore, 'LUFS')}, to ${withUnit(target.integratedLufs, 'LUFS')}: ${given}; their balance stays.`;
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

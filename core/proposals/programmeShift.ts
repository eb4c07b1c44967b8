import { integratedAt, solveGain } from '@/core/loudness/gainSolve';
import { isOver } from '@/core/check/judge';
import { roomOf } from '@/core/programme/clipGain';
import { applyGains } from '@/core/programme/edits/gain';
import { CLIP_GAIN } from '@/core/programme/gainField';
import type { Clip, GainReason } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { signed, withUnit } from '@/core/text/figures';
import { held, heldWords, type GainLimit } from './held';
import type { Proposal, ProposedRow } from './protocol';

/** What is known of the programme as it stands. */
export interface ProgrammeLevel {
  /** Weighted mean squares of its gating blocks. */
  readonly blocks: Float64Array;
  readonly truePeakDbtp: number | null;
}

/**
 * Works out the one change of every audible clip's gain that brings the whole programme to the target's loudness,
 * not past its ceiling and not past what a clip's gain can be.
 * @returns a proposal of one row; `null` when the programme has nothing to measure
 */
export function shiftProposal(
  level: ProgrammeLevel,
  clips: readonly Clip[],
  target: Target,
): Proposal | null {
  const { truePeakDbtp } = level;
  const signal = [{ blocks: level.blocks, gainDb: 0 }];
  const solution = solveGain(signal, target.integratedLufs);
  if (!solution || truePeakDbtp === null || clips.length === 0) return null;
  const ceilingDbtp = target.maxTruePeakDbtp;
  const room = roomOf(
    clips.map(({ gain }) => gain.db),
    CLIP_GAIN,
  );
  const shift = held(solution.shiftDb, ceilingDbtp - truePeakDbtp, room);
  const before = integratedAt(signal, 0);
  const goal = withUnit(target.integratedLufs, 'LUFS');
  const row = (gainAfterDb: number, limitedBy: GainLimit, sentence: string): ProposedRow => ({
    ...{ id: 'programme', name: 'Programme', before, gainBeforeDb: 0, gainAfterDb },
    after: integratedAt(signal, gainAfterDb),
    truePeakAfter: truePeakDbtp + gainAfterDb,
    ...{ exactPeakAfter: null, noiseFloorAfter: null, skipped: null, warnings: [] },
    passesCeiling: isOver(truePeakDbtp + gainAfterDb, ceilingDbtp),
    ...{ limitedBy, sentence },
  });
  const stopped = heldWords(shift, {
    peak: 'the programme’s true peak',
    ...{ ceilingDbtp, gain: 'a clip’s gain', to: ' to every clip' },
  });
  const sentence =
    stopped === null
      ? `${signed(shift.changeDb, 2)} dB on every clip brings the programme to ${goal}; their balance stays.`
      : `${stopped}.${shift.limitedBy === 'ceiling' ? ' Lower what peaks, then try again.' : ''}`;
  const ids = new Set(clips.map(({ id }) => id));
  const reason: GainReason = {
    ...{ kind: 'levelled', measure: 'integrated', mode: 'programme', goal: target.integratedLufs },
    stoppedByCeiling: shift.limitedBy === 'ceiling',
  };
  return {
    rows: [row(shift.changeDb, shift.limitedBy, sentence)],
    unit: 'LUFS',
    gives: 'change',
    range: {
      name: 'The change',
      min: Math.ceil(room.minDb * 10) / 10,
      max: Math.floor(room.maxDb * 10) / 10,
    },
    inexact: [],
    typed: (_, gainDb) => {
      const after = withUnit(integratedAt(signal, gainDb), 'LUFS');
      return row(
        gainDb,
        null,
        `By hand: ${signed(gainDb, 2)} dB on every clip, to ${after}; their balance stays.`,
      );
    },
    edit: (project, [shifted]) => {
      if (!shifted) return project;
      const byHand = shifted.gainAfterDb !== shift.changeDb;
      const gains = project.clips
        .filter(({ id }) => ids.has(id))
        .map(({ id, gain }): [string, { db: number; reason: GainReason }] => [
          id,
          { db: gain.db + shifted.gainAfterDb, reason: byHand ? { kind: 'byHand' } : reason },
        ]);
      return applyGains(project, new Map(gains));
    },
    step: ([shifted], typed) =>
      typed > 0 ? `Change every gain by ${signed(shifted!.gainAfterDb, 2)} dB` : `Bring programme to ${goal}`,
  };
}

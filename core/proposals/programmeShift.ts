import { integratedAt, solveGain } from '@/core/loudness/gainSolve';
import { isOver } from '@/core/check/judge';
import { speechRules } from '@/core/check/verdict';
import { integrated } from '@/core/loudness/gating';
import { blocksWithin } from '@/core/loudness/levelTrack';
import { dialogueRanges } from '@/core/programme/dialogue';
import { everythingRoom, moveEverything } from '@/core/programme/edits/levels';
import { programmeFrames, type Project } from '@/core/programme/model';
import { signed, withUnit } from '@/core/text/figures';
import { CEILING_MARGIN_DB, held, heldWords, type GainLimit } from './held';
import type { Proposal, ProposedRow } from './protocol';

/** What is known of the programme as it stands. */
export interface ProgrammeLevel {
  /** Weighted mean squares of the gating blocks by which it is held against its target: see {@link ruledBlocks}. */
  readonly blocks: Float64Array;
  readonly truePeakDbtp: number | null;
}

/** Whether a programme is held against its target by what is spoken in it. @param blocks all of its gating blocks */
export function ruledBySpeech(project: Project, blocks: Float64Array): boolean {
  const { anchor = 'programme' } = project.target;
  if (anchor === 'programme') return false;
  const seconds = programmeFrames(project) / project.sampleRate;
  const spoken = blocksWithin(blocks, dialogueRanges(project), seconds);
  const { integratedLufs: lufs } = integrated(spoken.blocks);
  const sharePercent = seconds > 0 ? (100 * spoken.seconds) / seconds : 0;
  return speechRules(project.target, { lufs, sharePercent, overRestLu: null });
}

/** Those by which a programme is held against its target: of speech where that rules, else all of them. */
export function ruledBlocks(project: Project, blocks: Float64Array): Float64Array {
  if (!ruledBySpeech(project, blocks)) return blocks;
  return blocksWithin(blocks, dialogueRanges(project), programmeFrames(project) / project.sampleRate).blocks;
}

/**
 * Works out the one change of every track's gain that brings the whole programme to the target's loudness, not past its ceiling
 * and not past what a track's gain can be. Clips keep their gains and the reasons for them.
 * @returns a proposal of one row; `null` when the programme has nothing to measure
 */
export function shiftProposal(level: ProgrammeLevel, project: Project): Proposal | null {
  const { target } = project;
  const { truePeakDbtp } = level;
  const signal = [{ blocks: level.blocks, gainDb: 0 }];
  const solution = solveGain(signal, target.integratedLufs);
  if (!solution || truePeakDbtp === null) return null;
  const ceilingDbtp = target.maxTruePeakDbtp;
  const room = everythingRoom(project);
  const shift = held(solution.shiftDb, ceilingDbtp - CEILING_MARGIN_DB - truePeakDbtp, room);
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
    ...{ ceilingDbtp, gain: 'a track’s gain', to: ' to every track' },
  });
  const sentence =
    stopped === null
      ? `${signed(shift.changeDb, 2)} dB on every track brings the programme to ${goal}; their balance stays.`
      : `${stopped}.${shift.limitedBy === 'ceiling' ? ' Lower what peaks, then try again.' : ''}`;
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
        `By hand: ${signed(gainDb, 2)} dB on every track, to ${after}; their balance stays.`,
      );
    },
    edit: (current, [shifted]) => (shifted ? moveEverything(current, shifted.gainAfterDb) : current),
    step: ([shifted], typed) =>
      typed > 0
        ? `Change every track’s gain by ${signed(shifted!.gainAfterDb, 2)} dB`
        : `Bring programme to ${goal}`,
  };
}

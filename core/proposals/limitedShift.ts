import { integratedAt, solveGain } from '@/core/loudness/gainSolve';
import { everythingRoom, moveEverything } from '@/core/programme/edits/levels';
import { programmeFrames, type Limiter, type Project } from '@/core/programme/model';
import { signed, withUnit } from '@/core/text/figures';
import type { LimitedGain } from './limitedGain';
import { limiterSentences } from './limiterWords';
import type { ProgrammeLevel } from './programmeShift';
import type { Proposal, ProposedRow } from './protocol';

/** The limiter that a programme is to have, at its target's ceiling. @param wanted the settings, where they are not those that it has */
export const limiterForTarget = ({ target }: Project, wanted: Limiter): Limiter => ({
  ...wanted,
  bypassed: false,
  ceilingDbtp: Math.min(wanted.ceilingDbtp, target.maxTruePeakDbtp),
});

/** Where to begin looking for the gain with a limiter, and how far it can go, dB; `null` when there is nothing to measure. */
export function limitedShiftStart(
  { blocks }: Pick<ProgrammeLevel, 'blocks'>,
  project: Project,
): readonly [startDb: number, mostDb: number] | null {
  const solution = solveGain([{ blocks, gainDb: 0 }], project.target.integratedLufs);
  return solution && [solution.shiftDb, everythingRoom(project).maxDb];
}

/**
 * The programme to its target by one change of every track's gain, with a limiter on the whole that keeps the ceiling.
 * @param level as it stands now
 * @param found the gain that was solved with the limiter in the path
 */
export function limitedShift(
  { blocks }: Pick<ProgrammeLevel, 'blocks'>,
  project: Project,
  limiter: Limiter,
  found: LimitedGain,
  aloneDb: number | null,
): Proposal {
  const { target, sampleRate } = project;
  const before = integratedAt([{ blocks, gainDb: 0 }], 0);
  const goal = withUnit(target.integratedLufs, 'LUFS');
  const seconds = programmeFrames(project) / sampleRate;
  const needed = found.work.maxReductionDb > 0;
  const row: ProposedRow = {
    ...{ id: 'programme', name: 'Programme', before, gainBeforeDb: 0, gainAfterDb: found.gainDb },
    after: found.after.integratedLufs,
    truePeakAfter: found.after.truePeakDbtp,
    ...{ exactPeakAfter: null, noiseFloorAfter: null, skipped: null, passesCeiling: false, limitedBy: null },
    warnings: [],
    sentence: [
      `${signed(found.gainDb, 2)} dB on every track${needed ? ', with a limiter on the programme' : ''}: ${withUnit(found.after.integratedLufs, 'LUFS')}.`,
      ...(needed
        ? limiterSentences(limiter, found, seconds)
        : ['No peak comes to the ceiling: no limiter is needed.']),
      ...(aloneDb === null ? [] : [`Gain alone would stop at ${signed(aloneDb, 2)} dB.`]),
    ].join(' '),
  };
  return {
    rows: [row],
    unit: 'LUFS',
    gives: 'change',
    // What comes of another gain is not known without rendering it.
    range: { name: 'The change', min: found.gainDb, max: found.gainDb },
    inexact: [],
    typed: (same) => same,
    edit: (current, [shifted]) =>
      shifted
        ? { ...moveEverything(current, shifted.gainAfterDb), limiter: needed ? limiter : current.limiter }
        : current,
    step: () =>
      needed
        ? `Bring programme to ${goal}, limited to ${withUnit(limiter.ceilingDbtp, 'dBTP')}`
        : `Bring programme to ${goal}`,
  };
}

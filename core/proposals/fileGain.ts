import { exactPeakToShow } from './exactPeak';
import { held, type GainLimit } from './held';
import { figuresAfterGain, type LoudnessFigures, type Measured } from '@/core/loudness/figures';
import { solveGain } from '@/core/loudness/gainSolve';
import { gatingBlocks } from '@/core/loudness/windows';
import type { LevelMeasure } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { speechRules, verdictOf, type DialogueFigures, type Verdict } from '@/core/check/verdict';
import { signed, withUnit } from '@/core/text/figures';

/** The gain that brings a finished file to a target, held under its true-peak ceiling. */
export interface FileGain {
  /** dB. */
  readonly gainDb: number;
  /** What the target alone would want, dB. */
  readonly wantedDb: number;
  readonly limitedBy: GainLimit;
  /** What the file will measure. */
  readonly after: LoudnessFigures;
  /** The exact true peak it will have, dBTP; `null` where it was not worked out. */
  readonly exactPeakAfterDbtp: number | null;
}

/** A file’s samples can be multiplied by anything. */
const UNLIMITED = { minDb: -Infinity, maxDb: Infinity };

/** Why there is no gain for a file, as a full sentence with a full stop. */
export function nothingToLevel({ figures, energy, sampleRate }: Measured): string {
  if (figures.truePeakDbtp === null) return 'There is nothing over −70 LUFS in this file: it is silent.';
  return gatingBlocks(energy, sampleRate).length === 0
    ? 'This file is shorter than the 0.4 s that loudness is measured over.'
    : 'There is nothing over −70 LUFS in this file.';
}

/**
 * Works out the one gain for a file.
 * @param by bring integrated loudness to the target, or the true peak to its ceiling
 * @param exactPeakDbtp where it is known: the larger of the two readings keeps under the ceiling
 * @param spoken what is known of speech in it, for targets that go by that
 * @returns `null` when there is nothing to measure, see {@link nothingToLevel}
 */
export function fileGain(
  measured: Measured,
  target: Target,
  by: LevelMeasure,
  exactPeakDbtp: number | null = null,
  spoken: DialogueFigures | null = null,
): FileGain | null {
  const { truePeakDbtp } = measured.figures;
  if (truePeakDbtp === null) return null;
  const largest = target.maxTruePeakDbtp - Math.max(truePeakDbtp, exactPeakDbtp ?? -Infinity);
  let wantedDb = largest;
  if (by === 'integrated' && speechRules(target, spoken)) {
    if (!spoken || spoken.lufs === null) return null;
    wantedDb = target.integratedLufs - spoken.lufs;
  } else if (by === 'integrated') {
    const blocks = gatingBlocks(measured.energy, measured.sampleRate);
    const solution = solveGain([{ blocks, gainDb: 0 }], target.integratedLufs);
    if (!solution) return null;
    wantedDb = solution.shiftDb;
  }
  const { changeDb: gainDb, limitedBy } = held(wantedDb, largest, UNLIMITED);
  return {
    ...{ gainDb, wantedDb, limitedBy },
    after: figuresAfterGain(measured, gainDb),
    exactPeakAfterDbtp: exactPeakDbtp === null ? null : exactPeakDbtp + gainDb,
  };
}

/** What to do with a finished file. */
export interface Mend {
  /** `leave`: it meets the target as it is. `gain`: one gain does it. `cannot`: gain alone cannot. */
  readonly kind: 'leave' | 'gain' | 'cannot' | 'nothing';
  /** The gain to give, dB; for `cannot` the best there is. */
  readonly gainDb: number;
  readonly after: Verdict | null;
  /** One or two sentences for the editor. */
  readonly sentence: string;
}

const NO_SPEECH: Mend = {
  ...{ kind: 'nothing', gainDb: 0, after: null },
  sentence:
    'This target goes by dialogue, and nothing says when somebody speaks in this file: select another target, or check it with its speech found.',
};

/**
 * Whether one gain mends a file, which, and if none can: why.
 * @param exactPeakDbtp where it is known, see {@link fileGain}
 * @param spoken the same
 */
export function mendOf(
  measured: Measured,
  target: Target,
  exactPeakDbtp: number | null = null,
  spoken: DialogueFigures | null = null,
): Mend {
  const gain = fileGain(measured, target, 'integrated', exactPeakDbtp, spoken);
  if (!gain && speechRules(target, spoken)) return { ...NO_SPEECH };
  if (!gain) return { kind: 'nothing', gainDb: 0, after: null, sentence: nothingToLevel(measured) };
  if (verdictOf({ ...measured.figures, spoken }, target).meets) {
    return {
      kind: 'leave',
      gainDb: 0,
      after: null,
      sentence: 'It meets the target as it is; no gain is needed.',
    };
  }
  const louder = spoken && {
    ...spoken,
    lufs: spoken.lufs === null ? null : spoken.lufs + gain.gainDb,
  };
  const after = verdictOf({ ...gain.after, spoken: louder }, target);
  const exact = exactPeakToShow(gain.after.truePeakDbtp, gain.exactPeakAfterDbtp);
  const peak = `${withUnit(gain.after.truePeakDbtp, 'dBTP')}${exact === null ? '' : ` (exactly ${withUnit(exact, 'dBTP')})`}`;
  const reached = `brings it to ${withUnit(gain.after.integratedLufs, 'LUFS')} with a true peak of ${peak}`;
  if (after.meets) {
    return { kind: 'gain', gainDb: gain.gainDb, after, sentence: `${signed(gain.gainDb, 2)} dB ${reached}.` };
  }
  const causes = after.figures.flatMap((entry) =>
    entry.state === 'within' || entry.deviation === null
      ? []
      : [
          `${entry.label.toLowerCase()} would still be ${withUnit(Math.abs(entry.deviation), entry.deviationUnit)} ${entry.state}`,
        ],
  );
  const first =
    gain.limitedBy === 'ceiling'
      ? `The target wants ${signed(gain.wantedDb)} dB, but at ${signed(gain.gainDb)} dB the ${exact === null ? '' : 'exact '}true peak reaches ${withUnit(target.maxTruePeakDbtp, 'dBTP')}`
      : `${signed(gain.gainDb)} dB ${reached}`;
  return {
    kind: 'cannot',
    gainDb: gain.gainDb,
    after,
    sentence: `Gain alone cannot fix it. ${first}; ${causes.join(', ')}.`,
  };
}

import type { LoudnessFigures } from '@/core/loudness/figures';
import { isOver, standingOf, type Standing } from './judge';
import type { Target } from './target';

type LimitedFigure = 'integrated' | 'truePeak' | 'maxShortTerm' | 'maxMomentary' | 'loudnessRange';

/** One figure against what the target says of it. */
export interface FigureVerdict {
  readonly figure: LimitedFigure;
  readonly label: string;
  /** Unit of the value, and of the deviation. */
  readonly unit: 'LUFS' | 'dBTP' | 'LU';
  readonly deviationUnit: 'LU' | 'dB';
  readonly value: number | null;
  /** The target value or the highest value allowed. */
  readonly goal: number;
  /** Allowed distance to both sides, or `null` when `goal` is a ceiling. */
  readonly tolerance: number | null;
  /** value − goal; `null` without a value. */
  readonly deviation: number | null;
  readonly state: Standing | 'unknown';
}

export interface Verdict {
  readonly figures: readonly FigureVerdict[];
  /** `null` while there is nothing to judge, or while nothing is over but not all of it is there. */
  readonly meets: boolean | null;
  /** How many clips belong to it and are in none of the figures. */
  readonly leftOut: number;
}

function judge(
  figure: LimitedFigure,
  label: string,
  unit: FigureVerdict['unit'],
  value: number | null,
  goal: number,
  tolerance: number | null,
): FigureVerdict {
  const deviation = value === null ? null : value - goal;
  const state =
    deviation === null
      ? 'unknown'
      : tolerance === null
        ? isOver(value, goal)
          ? 'over'
          : 'within'
        : standingOf(deviation, tolerance);
  return {
    figure,
    label,
    unit,
    deviationUnit: unit === 'dBTP' ? 'dB' : 'LU',
    value,
    goal,
    tolerance,
    deviation,
    state,
  };
}

/**
 * Holds figures against a target: integrated loudness within its tolerance, all else not over its limit.
 * @param leftOut how many clips the figures leave out: what is not whole never meets
 */
export function verdictOf(figures: LoudnessFigures, target: Target, leftOut = 0): Verdict {
  const list: FigureVerdict[] = [
    judge(
      'integrated',
      'Integrated',
      'LUFS',
      figures.integratedLufs,
      target.integratedLufs,
      target.toleranceLu,
    ),
    judge('truePeak', 'True peak', 'dBTP', figures.truePeakDbtp, target.maxTruePeakDbtp, null),
  ];
  if (target.maxShortTermLufs !== null) {
    list.push(
      judge(
        'maxShortTerm',
        'Max short-term',
        'LUFS',
        figures.maxShortTermLufs,
        target.maxShortTermLufs,
        null,
      ),
    );
  }
  if (target.maxMomentaryLufs !== null) {
    list.push(
      judge('maxMomentary', 'Max momentary', 'LUFS', figures.maxMomentaryLufs, target.maxMomentaryLufs, null),
    );
  }
  if (target.maxLoudnessRangeLu !== null) {
    list.push(
      judge(
        'loudnessRange',
        'Loudness range',
        'LU',
        figures.loudnessRangeLu,
        target.maxLoudnessRangeLu,
        null,
      ),
    );
  }
  // What is too quiet or too short for a loudness can still be over the ceiling.
  const misses = list.some(({ state }) => state === 'over' || state === 'under');
  const meets = misses ? false : figures.integratedLufs === null || leftOut > 0 ? null : true;
  return { figures: list, meets, leftOut };
}

import { lufsToMeanSquare } from '@/core/loudness/decibels';
import { everyHop, gatingBlocks, shortTermWindows } from '@/core/loudness/windows';
import { figure, signed, tellingDigits, withUnit } from '@/core/text/figures';
import type { Target } from '../target';
import type { FigureVerdict, LimitedFigure, Verdict } from '../verdict';
import { finding, type Finding, type FindingKind } from './finding';
import type { CheckMaterial } from './material';
import { placesOverLimits } from './overLimits';

const PEAK_WORDS = { truePeak: 'True peak', momentary: 'Momentary', shortTerm: 'Short-term' } as const;

/** What is over a limit, with as many digits as it takes to be seen. */
function overWords(
  what: string,
  worst: number,
  { limit, unit, by }: { readonly limit: number; readonly unit: string; readonly by: string },
): string {
  const digits = tellingDigits(worst - limit, 0, true);
  return `${what} ${withUnit(worst, unit, digits)}, ${figure(worst - limit, digits)} ${by} over the limit of ${withUnit(limit, unit)}.`;
}

/** Places over the limits of loudness and true peak. */
export function overLimits(material: CheckMaterial, target: Target): Finding[] {
  const { energy, sampleRate, truePeaks, seconds } = material;
  const levels = {
    truePeaks,
    blocks: gatingBlocks(energy, sampleRate),
    shortTerm: everyHop(shortTermWindows(energy, sampleRate)),
  };
  const limits = {
    truePeak: [target.maxTruePeakDbtp, 'dBTP', 'dB'],
    momentary: [target.maxMomentaryLufs!, 'LUFS', 'LU'],
    shortTerm: [target.maxShortTermLufs!, 'LUFS', 'LU'],
  } as const;
  return placesOverLimits(levels, target).map(({ kind, from, to, worst }) => {
    const [limit, unit, by] = limits[kind];
    return finding({
      ...{ kind, from, to: Math.min(seconds, to), value: worst, limit, unit, weight: 'breaks' },
      sentence: overWords(PEAK_WORDS[kind], worst, { limit, unit, by }),
    });
  });
}

const WHOLE: Partial<Record<LimitedFigure, FindingKind>> = {
  integrated: 'integrated',
  dialogue: 'integrated',
  loudnessRange: 'range',
  leastLoudnessRange: 'range',
  dialogueOverRest: 'dialogue',
  silence: 'silence',
  leastHead: 'head',
  head: 'head',
  leastTail: 'tail',
  tail: 'tail',
  leastLength: 'format',
  length: 'format',
};

function sentenceOf({
  label,
  value,
  unit,
  goal,
  tolerance,
  atLeast,
  deviation,
  deviationUnit,
}: FigureVerdict) {
  const digits = tellingDigits(Math.abs(deviation ?? 0), tolerance ?? 0, true);
  const off = `${signed(deviation, digits)} ${deviationUnit}`;
  const wanted =
    tolerance === null
      ? `${atLeast ? 'at least' : 'at most'} ${withUnit(goal, unit)}`
      : `${withUnit(goal, unit)} ±${figure(tolerance)}`;
  return `${label} ${withUnit(value, unit, digits)}, ${off} from ${wanted}.`;
}

/** What of the whole misses its target. */
export function missedFigures(verdict: Verdict, { seconds }: CheckMaterial): Finding[] {
  return verdict.figures.flatMap((entry) => {
    const kind = WHOLE[entry.figure];
    if (!kind || (entry.state !== 'over' && entry.state !== 'under')) return [];
    const { value, goal: limit, unit } = entry;
    const span = spanOf(kind, entry, seconds);
    const found = {
      kind,
      ...span,
      value,
      limit,
      unit,
      weight: 'breaks',
      sentence: sentenceOf(entry),
    } as const;
    return [finding(found, entry.figure)];
  });
}

function spanOf(kind: FindingKind, { value }: FigureVerdict, seconds: number) {
  if (kind === 'head') return { from: 0, to: value ?? 0 };
  if (kind === 'tail') return { from: Math.max(0, seconds - (value ?? 0)), to: seconds };
  return { from: 0, to: seconds, whole: true } as const;
}

/** What of its form is not as asked. */
export function wrongForm({ form }: Verdict, { seconds }: CheckMaterial): Finding[] {
  return form
    .filter(({ meets }) => !meets)
    .map(({ figure: about, label, value, wanted }) =>
      finding(
        {
          ...{ kind: 'format', from: 0, to: seconds, whole: true, value: null, limit: null, unit: '' },
          weight: 'breaks',
          sentence: `${label}: ${value}; asked for ${wanted.length === 1 ? wanted[0] : `one of ${wanted.join(', ')}`}.`,
        },
        about,
      ),
    );
}

/** A mean square under which there is nothing to be heard: the absolute gate of ITU-R BS.1770-5, Annex 1. */
export const SILENT = lufsToMeanSquare(-70);

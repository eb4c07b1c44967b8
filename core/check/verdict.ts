import type { IntegrityFault } from '@/core/audio/integrity';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { count } from '@/core/text/words';
import { isOver, isUnder, standingOf, type Standing } from './judge';
import type { Target } from './target';

/** What is known of speech in a sound. */
export interface DialogueFigures {
  /** Integrated loudness while somebody speaks, LUFS. */
  readonly lufs: number | null;
  /** Share of the time in which somebody speaks, per cent. */
  readonly sharePercent: number;
  /** How far the rest lies under speech while somebody speaks, LU; `null` where the two are not apart. */
  readonly overRestLu: number | null;
}

/** Silence in a sound, seconds. */
export interface SilenceFigures {
  readonly longest: number;
  readonly head: number;
  readonly tail: number;
}

/** The form in which a sound comes. */
export interface FormFigures {
  readonly seconds: number;
  readonly sampleRate: number;
  /** Of channels. */
  readonly layoutId: string;
  readonly layoutName: string;
  /** `null` for a programme, which has no file yet. */
  readonly bitDepth: number | null;
  readonly container: string | null;
}

/** All that a verdict can be given on; what is left out is not known. */
export interface Judged extends LoudnessFigures {
  readonly spoken?: DialogueFigures | null;
  readonly silence?: SilenceFigures;
  readonly form?: FormFigures;
  /** Why the figures cannot be certified; empty, or left out, where they are of the whole. */
  readonly integrity?: readonly IntegrityFault[];
}

export type LimitedFigure =
  | 'integrated'
  | 'dialogue'
  | 'truePeak'
  | 'samplePeak'
  | 'maxShortTerm'
  | 'maxMomentary'
  | 'loudnessRange'
  | 'leastLoudnessRange'
  | 'dialogueOverRest'
  | 'silence'
  | 'leastHead'
  | 'head'
  | 'leastTail'
  | 'tail'
  | 'leastLength'
  | 'length';

/** What of the form of a file is asked. */
type FormFigure = 'sampleRate' | 'bitDepth' | 'layout' | 'container';

/** One figure against what the target says of it. */
export interface FigureVerdict {
  readonly figure: LimitedFigure;
  readonly label: string;
  /** Unit of the value, and of the deviation. */
  readonly unit: 'LUFS' | 'dBTP' | 'dBFS' | 'LU' | 's';
  readonly deviationUnit: 'LU' | 'dB' | 's';
  readonly value: number | null;
  /** The target value, or the highest or lowest value allowed. */
  readonly goal: number;
  /** Allowed distance to both sides, or `null` when `goal` is a limit to one side. */
  readonly tolerance: number | null;
  /** Where `goal` is a limit, whether it is the lowest value allowed in place of the highest. */
  readonly atLeast: boolean;
  /** value − goal; `null` without a value. */
  readonly deviation: number | null;
  readonly state: Standing | 'unknown';
}

/** What is asked of the form of a file, and what it is. */
export interface FormVerdict {
  readonly figure: FormFigure;
  readonly label: string;
  readonly value: string;
  /** One of them is asked for. */
  readonly wanted: readonly string[];
  readonly meets: boolean;
}

/** What a sound comes to by a target. */
export type Outcome =
  | 'meets'
  | 'misses'
  /** The audio is incomplete, or not known to be complete: whatever it measures, it is not certified. */
  | 'notWhole'
  /** A required figure cannot be measured. */
  | 'notJudged';

export const OUTCOME_WORDS: Readonly<Record<Outcome, string>> = {
  meets: 'Meets',
  misses: 'Misses',
  notWhole: 'Cannot be certified',
  notJudged: 'Cannot be judged',
};

export interface Verdict {
  readonly outcome: Outcome;
  readonly figures: readonly FigureVerdict[];
  /** What of the form of a file is asked; empty where nothing is, or where there is no file. */
  readonly form: readonly FormVerdict[];
  /** `null` where it cannot be certified or judged. */
  readonly meets: boolean | null;
  /** Why it cannot be certified. */
  readonly integrity: readonly IntegrityFault[];
  /** How many clips belong to it and are in none of the figures. */
  readonly leftOut: number;
}

type Units = Pick<FigureVerdict, 'unit' | 'deviationUnit'>;
const LUFS: Units = { unit: 'LUFS', deviationUnit: 'LU' };
const LU: Units = { unit: 'LU', deviationUnit: 'LU' };
const DBTP: Units = { unit: 'dBTP', deviationUnit: 'dB' };
const DBFS: Units = { unit: 'dBFS', deviationUnit: 'dB' };
const SECONDS: Units = { unit: 's', deviationUnit: 's' };

type Named = Pick<FigureVerdict, 'figure' | 'label'> & Units;

function around(named: Named, value: number | null, goal: number, tolerance: number): FigureVerdict {
  const deviation = value === null ? null : value - goal;
  const state = deviation === null ? 'unknown' : standingOf(deviation, tolerance);
  return { ...named, value, goal, tolerance, atLeast: false, deviation, state };
}

function limited(
  named: Named,
  value: number | null | undefined,
  goal: number | null | undefined,
  atLeast = false,
): FigureVerdict[] {
  if (goal === null || goal === undefined) return [];
  const known = value ?? null;
  const state =
    known === null
      ? 'unknown'
      : atLeast
        ? isUnder(known, goal)
          ? 'under'
          : 'within'
        : isOver(known, goal)
          ? 'over'
          : 'within';
  const deviation = known === null ? null : known - goal;
  return [{ ...named, value: known, goal, tolerance: null, atLeast, deviation, state }];
}

/**
 * Whether the loudness of speech is held against the target, in place of that of all of it. Where it depends on how much
 * speech there is and that is not known, all of it counts.
 */
export function speechRules(
  { anchor = 'programme', dialogueFromPercent }: Pick<Target, 'anchor' | 'dialogueFromPercent'>,
  spoken: DialogueFigures | null | undefined,
): boolean {
  if (anchor === 'dialogueFrom')
    return (spoken?.sharePercent ?? 0) >= (dialogueFromPercent ?? 0) && (spoken?.lufs ?? null) !== null;
  return anchor === 'dialogue';
}

function formOf({ form }: Judged, target: Target): FormVerdict[] {
  if (!form) return [];
  const entry = (
    figure: FormFigure,
    label: string,
    value: string | null,
    wanted: readonly (string | number)[] | undefined,
    meets: (one: string) => boolean = (one) => one === value,
  ): FormVerdict[] => {
    if (value === null || !wanted || wanted.length === 0) return [];
    const words = wanted.map(String);
    return [{ figure, label, value, wanted: words, meets: words.some(meets) }];
  };
  const same = (a: string) => (b: string) => a.toLowerCase() === b.toLowerCase();
  const layouts = [same(form.layoutId), same(form.layoutName)];
  return [
    ...entry('sampleRate', 'Sample rate', String(form.sampleRate), target.sampleRates),
    ...entry(
      'bitDepth',
      'Bit depth',
      form.bitDepth === null ? null : String(form.bitDepth),
      target.bitDepths,
    ),
    ...entry('layout', 'Channels', form.layoutName, target.layouts, (one) => layouts.some((is) => is(one))),
    ...entry('container', 'Kind of file', form.container, target.containers, same(form.container ?? '')),
  ];
}

/** Figures that a sound may be too short or too quiet to have, which breaks no limit. */
const MAY_BE_NONE: readonly LimitedFigure[] = [
  'truePeak',
  'samplePeak',
  'maxShortTerm',
  'maxMomentary',
  'loudnessRange',
];

/**
 * Holds figures against a target: loudness within its tolerance, all else within its limits. What is not whole neither meets nor
 * misses.
 * @param leftOut how many clips the figures leave out
 */
export function verdictOf(judged: Judged, target: Target, leftOut = 0): Verdict {
  const { spoken, silence, form } = judged;
  const bySpeech = speechRules(target, spoken);
  const [goal, tolerance] = [target.integratedLufs, target.toleranceLu];
  const list: FigureVerdict[] = [
    bySpeech
      ? around({ figure: 'dialogue', label: 'Dialogue', ...LUFS }, spoken?.lufs ?? null, goal, tolerance)
      : around(
          { figure: 'integrated', label: 'Integrated', ...LUFS },
          judged.integratedLufs,
          goal,
          tolerance,
        ),
    ...limited(
      { figure: 'truePeak', label: 'True peak', ...DBTP },
      judged.truePeakDbtp,
      target.maxTruePeakDbtp,
    ),
    ...limited(
      { figure: 'samplePeak', label: 'Sample peak', ...DBFS },
      judged.samplePeakDbfs,
      target.maxSamplePeakDbfs,
    ),
    ...limited(
      { figure: 'maxShortTerm', label: 'Max short-term', ...LUFS },
      judged.maxShortTermLufs,
      target.maxShortTermLufs,
    ),
    ...limited(
      { figure: 'maxMomentary', label: 'Max momentary', ...LUFS },
      judged.maxMomentaryLufs,
      target.maxMomentaryLufs,
    ),
    ...limited(
      { figure: 'loudnessRange', label: 'Loudness range', ...LU },
      judged.loudnessRangeLu,
      target.maxLoudnessRangeLu,
    ),
    ...limited(
      { figure: 'leastLoudnessRange', label: 'Least loudness range', ...LU },
      judged.loudnessRangeLu,
      target.minLoudnessRangeLu,
      true,
    ),
    ...limited(
      { figure: 'dialogueOverRest', label: 'Dialogue over the rest', ...LU },
      spoken?.overRestLu,
      target.minDialogueOverRestLu,
      true,
    ),
    ...limited(
      { figure: 'silence', label: 'Longest silence', ...SECONDS },
      silence?.longest,
      target.maxSilenceSeconds,
    ),
    ...limited(
      { figure: 'leastHead', label: 'Silence at head', ...SECONDS },
      silence?.head,
      target.minHeadSeconds,
      true,
    ),
    ...limited(
      { figure: 'head', label: 'Silence at head', ...SECONDS },
      silence?.head,
      target.maxHeadSeconds,
    ),
    ...limited(
      { figure: 'leastTail', label: 'Silence at tail', ...SECONDS },
      silence?.tail,
      target.minTailSeconds,
      true,
    ),
    ...limited(
      { figure: 'tail', label: 'Silence at tail', ...SECONDS },
      silence?.tail,
      target.maxTailSeconds,
    ),
    ...limited(
      { figure: 'leastLength', label: 'Length', ...SECONDS },
      form?.seconds,
      target.minSeconds,
      true,
    ),
    ...limited({ figure: 'length', label: 'Length', ...SECONDS }, form?.seconds, target.maxSeconds),
  ];
  const forms = formOf(judged, target);
  // What is too quiet or too short for a loudness can still be over the ceiling.
  const misses =
    list.some(({ state }) => state === 'over' || state === 'under') || forms.some(({ meets }) => !meets);
  const unknown = list.some(({ state, figure }) => state === 'unknown' && !MAY_BE_NONE.includes(figure));
  const integrity = [...(judged.integrity ?? []), ...(leftOut > 0 ? [leftOutFault(leftOut)] : [])];
  const outcome = integrity.length > 0 ? 'notWhole' : misses ? 'misses' : unknown ? 'notJudged' : 'meets';
  const meets = outcome === 'meets' ? true : outcome === 'misses' ? false : null;
  return { outcome, figures: list, form: forms, meets, integrity, leftOut };
}

const leftOutFault = (clips: number): IntegrityFault => ({
  kind: 'leftOut',
  sentence: `${count(clips, 'clip')} without sound ${clips === 1 ? 'is' : 'are'} left out.`,
});

/** Why nothing can be said of a sound, a full sentence; `null` where it meets or misses its target. */
export function whyNot({ outcome, integrity, figures }: Verdict): string | null {
  if (outcome === 'notWhole') return integrity.map(({ sentence }) => sentence).join(' ');
  if (outcome !== 'notJudged') return null;
  const missing = figures.filter(({ state, figure }) => state === 'unknown' && !MAY_BE_NONE.includes(figure));
  if (missing.some(({ figure }) => figure === 'dialogue')) return 'No dialogue found.';
  if (missing.some(({ figure }) => figure === 'integrated'))
    return 'The audio is silent or shorter than 0.4 s, so it has no integrated loudness.';
  return `${missing.map(({ label }) => label).join(', ')}: nothing to measure.`;
}

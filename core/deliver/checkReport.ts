import {
  serviceReport,
  verdictReport,
  type FileCheck,
  type ServiceReport,
  type VerdictReport,
} from '@/core/check/fileCheck';
import type { Service } from '@/core/check/services';
import type { Target } from '@/core/check/target';
import { whyNot, type Outcome, type Verdict } from '@/core/check/verdict';
import type { Measured } from '@/core/loudness/figures';
import { fixOf, type FindingReport } from '@/core/proposals/fileFix';
import { mendOf } from '@/core/proposals/fileGain';
import { signed, tellingDigits, withUnit } from '@/core/text/figures';

/** What is reported of a file as data. */
export interface CheckReport {
  readonly file: string;
  readonly verdicts: readonly VerdictReport[];
  readonly findings: readonly FindingReport[];
  readonly services: readonly ServiceReport[];
}

/** A file against one target, for people. */
interface CheckLine {
  /** Its id, and its name. */
  readonly target: string;
  readonly name: string;
  readonly outcome: Outcome;
  /** Figures that miss, figures that meet, or why there is no verdict. */
  readonly words: string;
  /** How far loudness is from the target, LU. */
  readonly deviation: number | null;
}

/** Why a file cannot be checked, and what to do. */
interface Trouble {
  readonly code: string;
  readonly message: string;
  readonly hint: string;
}

/** What was found of a file. */
export type CheckedFile =
  | { readonly file: string; readonly error: Trouble }
  | {
      readonly file: string;
      readonly report: CheckReport;
      readonly lines: readonly CheckLine[];
      readonly check: FileCheck;
    };

/** A verdict in one line. */
function wordsOf(verdict: Verdict): string {
  const { figures, form, outcome } = verdict;
  const missed = figures
    .filter(({ state }) => state === 'over' || state === 'under')
    .map(({ label, value, unit, deviation, deviationUnit, tolerance }) => {
      const digits = tellingDigits(Math.abs(deviation ?? 0), tolerance ?? 0, true);
      return `${label.toLowerCase()} ${withUnit(value, unit, digits)} (${signed(deviation, digits)} ${deviationUnit})`;
    });
  const wrong = form
    .filter((one) => !one.meets)
    .map(({ label, value, wanted }) => `${label.toLowerCase()} ${value}, not ${wanted.join(' or ')}`);
  if (outcome === 'misses') return [...missed, ...wrong].join(', ');
  const why = whyNot(verdict);
  if (why !== null) return why;
  const [loudness, peak] = figures;
  return [loudness, peak].map((one) => withUnit(one!.value, one!.unit)).join(', ');
}

const lineOf = (verdict: Verdict & { readonly target: Target }): CheckLine => ({
  ...{ target: verdict.target.id, name: verdict.target.name, outcome: verdict.outcome },
  ...{ words: wordsOf(verdict), deviation: verdict.figures[0]!.deviation },
});

/** Puts what was found of a file into the forms in which it is told. @param measured to work out gains that mend it */
export function checkedFile(
  file: string,
  check: FileCheck,
  measured: Measured,
  services: readonly Service[],
): Exclude<CheckedFile, { readonly error: unknown }> {
  const missed = check.verdicts.find(({ outcome }) => outcome !== 'meets') ?? check.verdicts[0]!;
  const spoken = check.judged.spoken ?? null;
  const mends = Object.fromEntries(
    check.verdicts.map(({ target }) => [target.id, mendOf(measured, target, null, spoken)]),
  );
  return {
    file,
    check,
    lines: check.verdicts.map(lineOf),
    report: {
      file,
      verdicts: check.verdicts.map((verdict) => verdictReport(verdict, verdict.target)),
      findings: check.findings.map((finding) => ({
        ...{ kind: finding.kind, from: finding.from, to: finding.to, value: finding.value },
        ...{ limit: finding.limit, weight: finding.weight, sentence: finding.sentence },
        targets: finding.targets ?? null,
        fix: fixOf(finding, mends, missed.target.id),
      })),
      services: services.map((service) => serviceReport(check.judged, service)),
    },
  };
}

const COLUMNS = [
  'file',
  'target',
  'outcome',
  'deviationLu',
  'integratedLufs',
  'dialogueLufs',
  'dialoguePercent',
  'maxShortTermLufs',
  'maxMomentaryLufs',
  'loudnessRangeLu',
  'truePeakDbtp',
  'samplePeakDbfs',
  'breaks',
  'worthALook',
  'reason',
  'error',
];

type Cell = string | number | boolean | null;

/** A table of files, a row a file and target, after a row of headings. */
export function checkTable(files: readonly CheckedFile[]): readonly (readonly Cell[])[] {
  const rows = files.flatMap((checked): Cell[][] => {
    if ('error' in checked) {
      const cells = COLUMNS.map((): Cell => null);
      [cells[0], cells[cells.length - 1]] = [checked.file, `${checked.error.message} ${checked.error.hint}`];
      return [cells];
    }
    const { judged, findings } = checked.check;
    const breaks = findings.filter(({ weight }) => weight === 'breaks').length;
    return checked.lines.map(({ target, outcome, words, deviation }) => [
      ...[checked.file, target, outcome, deviation, judged.integratedLufs],
      ...[judged.spoken?.lufs ?? null, judged.spoken?.sharePercent ?? null, judged.maxShortTermLufs],
      ...[judged.maxMomentaryLufs, judged.loudnessRangeLu, judged.truePeakDbtp, judged.samplePeakDbfs],
      ...[breaks, findings.length - breaks, outcome === 'meets' ? null : words, null],
    ]);
  });
  return [COLUMNS, ...rows];
}

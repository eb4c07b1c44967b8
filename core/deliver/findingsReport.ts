import { FINDING_NAMES, type FindingKind, type Weight } from '@/core/check/findings/finding';
import type { FixRow } from '@/core/proposals/fixes/fixProposal';

/** A finding of a programme as data. */
export interface ProgrammeFinding {
  readonly kind: FindingKind;
  readonly weight: Weight;
  /** Seconds; all of it where `whole`. */
  readonly from: number;
  readonly to: number;
  readonly whole: boolean;
  readonly value: number | null;
  readonly limit: number | null;
  readonly unit: string;
  readonly sentence: string;
  /** What would mend it; `null` while that is not worked out. */
  readonly fix: string | null;
  /** It is to stay as it is. */
  readonly accepted: boolean;
  /** Why; empty where nothing was said. */
  readonly note: string;
}

/** What was found in a programme, in the order in which it is told. */
export const findingsReport = (rows: readonly FixRow[]): readonly ProgrammeFinding[] =>
  rows.map(({ finding, mend, accepted }) => ({
    ...{ kind: finding.kind, weight: finding.weight, from: finding.from, to: finding.to },
    ...{ whole: finding.whole ?? false, value: finding.value, limit: finding.limit, unit: finding.unit },
    sentence: finding.sentence,
    fix: mend === null ? null : 'fix' in mend ? mend.fix.sentence : mend.remedy,
    ...{ accepted: accepted !== null, note: accepted?.note ?? '' },
  }));

const COLUMNS = [
  ...['finding', 'weight', 'from', 'to', 'value', 'limit', 'unit'],
  ...['sentence', 'fix', 'accepted', 'note'],
];

/** The same as a table, a row a finding, after a row of headings. */
export const findingsTable = (
  findings: readonly ProgrammeFinding[],
): readonly (readonly (string | number | boolean | null)[])[] => [
  COLUMNS,
  ...findings.map(({ kind, weight, from, to, value, limit, unit, sentence, fix, accepted, note }) => [
    ...[FINDING_NAMES[kind], weight, from, to, value, limit, unit],
    ...[sentence, fix, accepted, note],
  ]),
];

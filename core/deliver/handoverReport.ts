import { verdictReport, type VerdictReport } from '@/core/check/fileCheck';
import type { Verdict } from '@/core/check/verdict';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { Project } from '@/core/programme/model';
import type { DeliveryFile } from './deliveryFiles';
import { deliveryWords } from './deliveryWords';
import type { Proof } from './proof';
import { receiptWords, type Receipt } from './receipt';

/** A file as it was handed over. */
export interface HandedOver extends Proof {
  readonly file: DeliveryFile;
  readonly name: string;
  /** Its name where it was saved to; `null` while it was not. */
  readonly savedAs: string | null;
  /** When it was finished, local time as “2026-01-31 21:04:00”. */
  readonly at: string;
  readonly bytes: number;
  /** Of all of it, in hexadecimal. */
  readonly sha256: string;
  /** The programme it was rendered from, as it was then. */
  readonly project: Project;
  /** What was worked out from the mix, and what the file measures when it is read back. */
  readonly predicted: LoudnessFigures;
  readonly figures: LoudnessFigures;
  /** `null` where it has no target, or is a part of the mix. */
  readonly verdict: Verdict | null;
  /** The gain that it was given, dB. */
  readonly gainDb: number;
  /** What was done to it so that it meets its target, or why nothing was, full sentences; `null` where it was not asked for. */
  readonly corrected: string | null;
  /** Why it is no longer what would be delivered now; `null` when it still is. */
  readonly stale: string | null;
  /** What recipients answered, in the order in which they did. */
  readonly receipts: readonly Receipt[];
}

/** The same as data. */
export interface HandedReport {
  readonly file: string;
  readonly savedAs: string | null;
  readonly finished: string;
  readonly bytes: number;
  readonly sha256: string;
  readonly delivery: string;
  /** Seconds of the programme. */
  readonly from: number;
  readonly to: number;
  readonly verdict: VerdictReport | null;
  readonly predicted: LoudnessFigures;
  readonly figures: LoudnessFigures;
  readonly gainDb: number;
  readonly corrected: string | null;
  /** That the stems of its delivery add up to the mix, a full sentence; `null` where it is none of them. */
  readonly sum: string | null;
  readonly notes: readonly string[];
  readonly stale: string | null;
  readonly receipts: readonly Receipt[];
}

/** What was handed over, as data. */
export const handoverReport = (files: readonly HandedOver[]): readonly HandedReport[] =>
  files.map(({ file, name, at, project, verdict, wrong, codecOver, ...told }) => ({
    ...{ file: name, savedAs: told.savedAs, finished: at, bytes: told.bytes, sha256: told.sha256 },
    delivery: deliveryWords(project, file.delivery),
    ...{ from: file.from / project.sampleRate, to: file.to / project.sampleRate },
    verdict: verdict && file.delivery.target ? verdictReport(verdict, file.delivery.target) : null,
    ...{ predicted: told.predicted, figures: told.figures, gainDb: told.gainDb, corrected: told.corrected },
    sum: told.sum,
    notes: [...wrong, ...(codecOver ? [codecOver] : [])],
    ...{ stale: told.stale, receipts: told.receipts },
  }));

const COLUMNS = [
  ...[
    'file',
    'savedAs',
    'finished',
    'target',
    'outcome',
    'integratedLufs',
    'loudnessRangeLu',
    'truePeakDbtp',
  ],
  ...[
    'maxShortTermLufs',
    'maxMomentaryLufs',
    'gainDb',
    'corrected',
    'sum',
    'notes',
    'stale',
    'bytes',
    'sha256',
  ],
  'receipts',
];

/** The same as a table, a row a file, after a row of headings. */
export const handoverTable = (
  files: readonly HandedReport[],
): readonly (readonly (string | number | boolean | null)[])[] => [
  COLUMNS,
  ...files.map(({ figures, verdict, notes, ...told }) => [
    ...[told.file, told.savedAs, told.finished, verdict?.target ?? null, verdict?.outcome ?? null],
    ...[figures.integratedLufs, figures.loudnessRangeLu, figures.truePeakDbtp, figures.maxShortTermLufs],
    ...[figures.maxMomentaryLufs, told.gainDb, told.corrected, told.sum, notes.join(' ') || null, told.stale],
    ...[told.bytes, told.sha256, told.receipts.map(receiptWords).join(' ') || null],
  ]),
];

import { deviationWords, goalWords } from '@/core/check/deviationWords';
import { OUTCOME_WORDS, type Outcome } from '@/core/check/verdict';
import { FINDING_NAMES } from '@/core/check/findings/finding';
import { byteSize, clock, figure, signed, withUnit } from '@/core/text/figures';
import { overRestText } from '@/core/text/overRest';
import { count } from '@/core/text/words';
import { receiptWords } from '../receipt';
import { courseDrawing, distributionDrawing, type Drawing } from './drawing';
import type { FileFacts, ProgrammeReport, TargetReport } from './report';

/** What stands in a field of a table. */
export type Cell =
  | string
  /** A verdict, with its mark. */
  | { readonly kind: 'outcome'; readonly outcome: Outcome }
  /** With something smaller under it. */
  | { readonly kind: 'two'; readonly text: string; readonly small: string }
  /** To be compared letter by letter; may be broken anywhere. */
  | { readonly kind: 'code'; readonly text: string };

export interface Table {
  readonly kind: 'table';
  readonly caption: string;
  readonly heads: readonly string[];
  readonly rows: readonly (readonly Cell[])[];
  /** Of each column, as shares of the whole. */
  readonly widths: readonly number[];
}

/** A part of a report, in the order in which they stand, whatever it is shown as. */
export type Block =
  | { readonly kind: 'title' | 'heading' | 'text' | 'quiet'; readonly text: string }
  | { readonly kind: 'verdict'; readonly outcome: Outcome; readonly text: string }
  | { readonly kind: 'drawing'; readonly drawing: Drawing }
  | Table;

const text = (said: string): Block => ({ kind: 'text', text: said });
const quiet = (said: string): Block => ({ kind: 'quiet', text: said });

const verdictTable = (target: TargetReport): Table => ({
  kind: 'table',
  caption: `${target.name}: ${OUTCOME_WORDS[target.outcome]} (${[target.source, target.edition].filter(Boolean).join(', ')})`,
  heads: ['Figure', 'Measured', 'Asked for', 'Distance'],
  widths: [0.28, 0.22, 0.25, 0.25],
  rows: [
    ...target.figures.map((one) => [
      ...[one.label, withUnit(one.value, one.unit), goalWords(one), deviationWords(one)],
    ]),
    ...target.form.map((one) => [
      ...[one.label, one.value, one.wanted.join(' or '), one.meets ? 'as asked for' : 'another'],
    ]),
  ],
});

function figuresTable({ figures, details, dialogue }: ProgrammeReport): Table {
  const at = (place: number | null | undefined): string =>
    place === null || place === undefined ? '' : `at ${clock(place)}`;
  const rows: (readonly [string, string, string])[] = [
    ['Integrated', withUnit(figures.integratedLufs, 'LUFS'), ''],
    ['Relative gate', withUnit(figures.relativeGateLufs, 'LUFS'), ''],
    ['Max short-term', withUnit(figures.maxShortTermLufs, 'LUFS'), at(details?.maxShortTermAt)],
    ['Max momentary', withUnit(figures.maxMomentaryLufs, 'LUFS'), at(details?.maxMomentaryAt)],
    [
      'Loudness range',
      withUnit(figures.loudnessRangeLu, 'LU'),
      details?.rangeLowLufs == null
        ? ''
        : `${figure(details.rangeLowLufs)} to ${withUnit(details.rangeHighLufs, 'LUFS')}`,
    ],
    ['True peak', withUnit(figures.truePeakDbtp, 'dBTP'), at(details?.truePeakAt)],
    ['Sample peak', withUnit(figures.samplePeakDbfs, 'dBFS'), at(details?.samplePeakAt)],
  ];
  if (details) rows.push(['Noise floor', withUnit(details.noiseFloorLufs, 'LUFS'), '']);
  if (dialogue)
    rows.push(
      ['Dialogue', withUnit(dialogue.lufs, 'LUFS'), `${figure(dialogue.sharePercent, 0)} % of the time`],
      ['Dialogue over the rest', dialogue.overRestLu === null ? '—' : overRestText(dialogue.overRestLu), ''],
    );
  return {
    ...{ kind: 'table', caption: 'Figures', heads: ['Figure', 'Measured', 'Where'], rows },
    widths: [0.34, 0.33, 0.33],
  };
}

function findingsBlock({ findings }: ProgrammeReport): Block {
  if (findings === null) return { kind: 'text', text: 'The programme was not checked for findings.' };
  if (findings.length === 0) return { kind: 'text', text: 'Nothing was found.' };
  return {
    kind: 'table',
    caption: `Findings: ${findings.length}`,
    heads: ['Finding', 'Where', 'What is there', 'Proposed, or accepted'],
    widths: [0.2, 0.16, 0.36, 0.28],
    rows: findings.map((one) => [
      `${FINDING_NAMES[one.kind]}${one.weight === 'breaks' ? ' (breaks a limit)' : ''}`,
      one.whole ? 'all of it' : clock(one.from) + (one.to > one.from ? ` to ${clock(one.to)}` : ''),
      one.sentence,
      one.accepted ? `Accepted${one.note ? `: ${one.note}` : ''}` : one.fix ? `Proposed: ${one.fix}` : '—',
    ]),
  };
}

const filesTable = ({ files }: ProgrammeReport): Table => ({
  kind: 'table',
  caption: `Files handed over: ${files.length}`,
  heads: ['File', 'Verdict', 'Loudness, true peak', 'What was done', 'SHA-256'],
  widths: [0.24, 0.13, 0.17, 0.22, 0.24],
  rows: files.map((one) => [
    { kind: 'two', text: one.file, small: `${one.delivery}, ${byteSize(one.bytes)}` },
    one.verdict ? { kind: 'outcome', outcome: one.verdict.outcome } : 'not judged',
    `${withUnit(one.figures.integratedLufs, 'LUFS')}, ${withUnit(one.figures.truePeakDbtp, 'dBTP')}`,
    [
      ...(one.verdict?.reason ? [one.verdict.reason] : []),
      one.corrected ?? 'As it is.',
      ...(one.sum ? [one.sum] : []),
      ...one.notes,
      ...(one.stale ? [`Stale: ${one.stale}`] : []),
      ...one.receipts.map(receiptWords),
    ].join(' '),
    { kind: 'code', text: one.sha256 },
  ]),
});

const fileTable = ({ container, codec, bytes, sha256 }: FileFacts): Table => ({
  kind: 'table',
  caption: 'The file',
  heads: ['Format', 'Size', 'SHA-256'],
  widths: [0.3, 0.2, 0.5],
  rows: [[`${container}, ${codec}`, byteSize(bytes), { kind: 'code', text: sha256 }]],
});

/** Why a clip has its gain, and what else works on it. */
const clipWords = ({ reason, processing }: ProgrammeReport['clips'][number]): string =>
  processing.length === 0 ? reason : `${reason}; ${processing.join(', ')}`;

const processingTable = ({ processing }: ProgrammeReport): Table => ({
  kind: 'table',
  caption: 'Processing on tracks and on the programme',
  heads: ['On', 'What'],
  widths: [0.3, 0.7],
  rows: processing.map(({ track, steps }) => [track ?? 'The whole programme', steps.join(', ')]),
});

/** From the best to the worst. */
const SEVERITY: readonly Outcome[] = ['meets', 'notJudged', 'misses', 'notWhole'];

/** The verdict on what was delivered, over that on the programme it was made from; without such files on the programme alone. */
function headline({ targets, files, figures }: ProgrammeReport): readonly Block[] {
  const [lead] = targets;
  if (!lead) return [];
  const measured = `${withUnit(figures.integratedLufs, 'LUFS')}, true peak ${withUnit(figures.truePeakDbtp, 'dBTP')}`;
  const outcomes = files.flatMap(({ verdict }) => (verdict ? [verdict.outcome] : []));
  const why = lead.reason === null ? [] : [text(lead.reason)];
  if (outcomes.length === 0)
    return [{ kind: 'verdict', outcome: lead.outcome, text: `${lead.name}: ${measured}` }, ...why];
  const worst = outcomes.reduce((a, b) => (SEVERITY.indexOf(b) > SEVERITY.indexOf(a) ? b : a));
  const met = outcomes.filter((outcome) => outcome === 'meets').length;
  const stale = files.filter((one) => one.stale !== null).length;
  return [
    {
      ...{ kind: 'verdict', outcome: worst },
      text:
        met === outcomes.length
          ? `${count(met, 'delivered file')}, judged by ${met === 1 ? 'its target' : 'their targets'}`
          : `${met} of ${count(outcomes.length, 'delivered file')} ${met === 1 ? 'meets its target' : 'meet their targets'}`,
    },
    ...(stale > 0 ? [text(`${count(stale, 'file is', 'files are')} out of date.`)] : []),
    text(
      `The programme before what was done for delivery: ${measured}; ${lead.name}: ${OUTCOME_WORDS[lead.outcome].toLowerCase()}.`,
    ),
    ...why,
  ];
}

const clipsTable = ({ clips }: ProgrammeReport): Table => ({
  kind: 'table',
  caption: `Clips: ${clips.length}`,
  heads: ['Clip', 'Track', 'Where', 'Clip gain', 'Total gain', 'Reason and processing'],
  widths: [0.22, 0.12, 0.17, 0.1, 0.1, 0.29],
  rows: clips.map((one) => [
    ...[one.name, one.track, `${clock(one.from)} to ${clock(one.to)}`, `${signed(one.clipGainDb, 2)} dB`],
    ...[`${signed(one.gainDb, 2)} dB`, clipWords(one)],
  ]),
});

/**
 * A report as what stands on its pages.
 * @param full with findings and every clip; otherwise what a client wants to know
 */
export function reportBlocks(report: ProgrammeReport, full: boolean): readonly Block[] {
  const { programme, targets, files, made, software, standards, plan, mutedTracks, clips } = report;
  const [lead] = targets;
  const limited = lead?.figures.some(({ figure: name }) => name === 'maxShortTerm') ?? false;
  return [
    { kind: 'title', text: programme.name },
    quiet(
      `${clock(programme.seconds)}, ${programme.layout}, ${programme.sampleRate.toLocaleString('en')} Hz. Report of ${made}.`,
    ),
    ...headline(report),
    { kind: 'heading', text: 'Short-term loudness over time, LUFS' },
    { kind: 'drawing', drawing: courseDrawing(report) },
    quiet(
      `Dashed: the target, with its tolerance around it.${limited ? ' Solid line across: the largest allowed.' : ''}`,
    ),
    ...targets.map(verdictTable),
    figuresTable(report),
    ...(full
      ? [
          { kind: 'heading', text: 'Time at each short-term loudness, LUFS' } as const,
          { kind: 'drawing', drawing: distributionDrawing(report) } as const,
        ]
      : []),
    ...(report.file
      ? [fileTable(report.file)]
      : [files.length > 0 ? filesTable(report) : text('No file was handed over yet.')]),
    ...(full || report.file ? [findingsBlock(report)] : []),
    ...(full && !report.file ? [clipsTable(report)] : []),
    ...(report.processing.length > 0 ? [processingTable(report)] : []),
    ...(full && plan ? [text(`Levels by the plan “${plan}”.`)] : []),
    ...(mutedTracks.length > 0 ? [text(`Muted, and in none of it: ${mutedTracks.join(', ')}.`)] : []),
    ...(full || report.file ? [] : [quiet(`${count(clips.length, 'clip')}.`)]),
    quiet(`Measured by ${standards.join(', ')}, with ${software.name} ${software.version}.`),
  ];
}

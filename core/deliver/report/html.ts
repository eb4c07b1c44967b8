import { FINDING_NAMES } from '@/core/check/findings/finding';
import { deviationWords } from '@/core/check/deviationWords';
import type { FigureVerdict } from '@/core/check/verdict';
import { byteSize, clock, figure, signed, withUnit } from '@/core/text/figures';
import { overRestText } from '@/core/text/overRest';
import { count } from '@/core/text/words';
import type { HandedReport } from '../handoverReport';
import { courseSvg } from './courseSvg';
import type { ProgrammeReport, TargetReport } from './report';

/** Text as it may stand in a page. */
const escaped = (text: string): string => text.replace(/[&<>"']/g, (char) => `&#${char.charCodeAt(0)};`);

type Cell = string | { readonly html: string };

const cell = (content: Cell): string => (typeof content === 'string' ? escaped(content) : content.html);

function table(caption: string, heads: readonly string[], rows: readonly (readonly Cell[])[]): string {
  return [
    `<table><caption>${escaped(caption)}</caption><thead><tr>`,
    ...heads.map((head) => `<th scope="col">${escaped(head)}</th>`),
    '</tr></thead><tbody>',
    ...rows.map(
      ([first, ...others]) =>
        `<tr><th scope="row">${cell(first!)}</th>${others.map((one) => `<td>${cell(one)}</td>`).join('')}</tr>`,
    ),
    '</tbody></table>',
  ].join('');
}

const outcomeWords = (meets: boolean | null): string =>
  meets === null ? 'Nothing to judge' : meets ? 'Meets' : 'Misses';

/** A mark besides the word: a disc for what meets, a triangle for what misses. */
const outcome = (meets: boolean | null): Cell => ({
  html: `<b class="${meets ? 'meets' : meets === null ? '' : 'misses'}">${meets === null ? '○' : meets ? '●' : '▲'} ${outcomeWords(meets)}</b>`,
});

const goalWords = ({ goal, tolerance, atLeast, unit }: FigureVerdict): string =>
  tolerance === null
    ? `${atLeast ? 'at least' : 'at most'} ${withUnit(goal, unit)}`
    : `${withUnit(goal, unit)} ±${figure(tolerance)}`;

const verdictTable = (target: TargetReport): string =>
  table(
    `${target.name}: ${outcomeWords(target.meets)} (${[target.source, target.edition].filter(Boolean).join(', ')})`,
    ['Figure', 'Measured', 'Asked for', 'Distance'],
    [
      ...target.figures.map((one) => [
        one.label,
        withUnit(one.value, one.unit),
        goalWords(one),
        deviationWords(one),
      ]),
      ...target.form.map((one) => [
        one.label,
        one.value,
        one.wanted.join(' or '),
        one.meets ? 'as asked for' : 'another',
      ]),
    ],
  );

function figuresTable({ figures, details, dialogue }: ProgrammeReport): string {
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
  return table('Figures', ['Figure', 'Measured', 'Where'], rows);
}

function findingsTable({ findings }: ProgrammeReport): string {
  if (findings === null) return '<p>The programme was not checked for findings.</p>';
  if (findings.length === 0) return '<p>Nothing was found.</p>';
  return table(
    `Findings: ${findings.length}`,
    ['Finding', 'Where', 'What is there', 'What was done'],
    findings.map((one) => [
      `${FINDING_NAMES[one.kind]}${one.weight === 'breaks' ? ' (breaks a limit)' : ''}`,
      one.whole ? 'all of it' : clock(one.from) + (one.to > one.from ? ` to ${clock(one.to)}` : ''),
      one.sentence,
      one.accepted ? `Accepted${one.note ? `: ${one.note}` : ''}` : (one.fix ?? 'nothing yet'),
    ]),
  );
}

const filesTable = (files: readonly HandedReport[]): string =>
  table(
    `Files handed over: ${files.length}`,
    ['File', 'Verdict', 'Loudness, true peak', 'What was done', 'SHA-256'],
    files.map((one) => [
      { html: `${escaped(one.file)}<br><small>${escaped(one.delivery)}, ${byteSize(one.bytes)}</small>` },
      one.verdict ? outcome(one.verdict.meets) : 'not judged',
      `${withUnit(one.figures.integratedLufs, 'LUFS')}, ${withUnit(one.figures.truePeakDbtp, 'dBTP')}`,
      [one.corrected ?? 'as it is', ...one.notes, ...(one.stale ? [`Stale: ${one.stale}`] : [])].join(' '),
      { html: `<code>${escaped(one.sha256)}</code>` },
    ]),
  );

const clipsTable = ({ clips }: ProgrammeReport): string =>
  table(
    `Clips: ${clips.length}`,
    ['Clip', 'Track', 'Where', 'Clip gain', 'In all', 'Reason'],
    clips.map((one) => [
      ...[one.name, one.track, `${clock(one.from)} to ${clock(one.to)}`, `${signed(one.clipGainDb, 2)} dB`],
      ...[`${signed(one.gainDb, 2)} dB`, one.reason],
    ]),
  );

const STYLE = `
body{font:14px/1.45 system-ui,sans-serif;color:#1c2024;background:#fff;max-width:980px;margin:24px auto;padding:0 20px}
h1{font-size:22px;margin:0}h2{font-size:16px;margin:24px 0 6px}p{margin:4px 0}small,.sub{color:#555}
table{border-collapse:collapse;width:100%;margin:12px 0;font-variant-numeric:tabular-nums}
caption{text-align:left;font-weight:600;padding:4px 0}
th,td{text-align:left;padding:4px 10px 4px 0;border-bottom:1px solid #ddd;vertical-align:top;font-weight:400}
thead th{color:#555;font-size:12px}.meets{color:#24595c}.misses{color:#8a1c5c}
code{font-size:11px;overflow-wrap:anywhere}.big{font-size:17px;margin:8px 0}
@media print{body{margin:0;max-width:none}table{break-inside:auto}tr{break-inside:avoid}}
`.replace(/\n/g, '');

/**
 * A report as one page that needs nothing else.
 * @param full with findings and every clip; otherwise what a client wants to know
 */
export function reportHtml(report: ProgrammeReport, full: boolean): string {
  const { programme, targets, files, made, software, standards, plan, mutedTracks, clips } = report;
  const [lead] = targets;
  return [
    '<!doctype html><html lang="en"><head><meta charset="utf-8">',
    '<meta name="viewport" content="width=device-width">',
    // Nothing is loaded, whatever names and texts hold.
    `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">`,
    `<title>${escaped(`${programme.name}: loudness report`)}</title><style>${STYLE}</style></head><body><main>`,
    `<h1>${escaped(programme.name)}</h1>`,
    `<p class="sub">${clock(programme.seconds)}, ${escaped(programme.layout)}, ${programme.sampleRate.toLocaleString('en')} Hz. Report of ${escaped(made)}.</p>`,
    lead
      ? `<p class="big">${cell(outcome(lead.meets))} ${escaped(lead.name)}: ${withUnit(report.figures.integratedLufs, 'LUFS')}, true peak ${withUnit(report.figures.truePeakDbtp, 'dBTP')}</p>`
      : '',
    '<h2>Short-term loudness over time, LUFS</h2>',
    courseSvg(report),
    `<p class="sub">Dashed: the target, with its tolerance around it.${lead?.figures.some(({ figure: name }) => name === 'maxShortTerm') ? ' Solid line across: the largest allowed.' : ''}</p>`,
    ...targets.map(verdictTable),
    figuresTable(report),
    files.length > 0 ? filesTable(files) : '<p>No file was handed over yet.</p>',
    ...(full ? [findingsTable(report), clipsTable(report)] : []),
    full && plan ? `<p>Levels by the plan “${escaped(plan)}”.</p>` : '',
    mutedTracks.length > 0 ? `<p>Muted, and in none of it: ${escaped(mutedTracks.join(', '))}.</p>` : '',
    full ? '' : `<p class="sub">${count(clips.length, 'clip')}.</p>`,
    `<p class="sub">Measured by ${escaped(standards.join(', '))}, with ${escaped(software.name)} ${escaped(software.version)}.</p>`,
    '</main></body></html>',
    '\n',
  ].join('');
}

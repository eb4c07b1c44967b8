import { OUTCOME_WORDS, type Outcome } from '@/core/check/verdict';
import { reportBlocks, type Block, type Cell } from './document';
import type { ProgrammeReport } from './report';
import { drawingSvg, escaped } from './svg';

const MARKS: Readonly<Record<Outcome, string>> = { meets: '●', misses: '▲', notWhole: '○', notJudged: '○' };

/** A mark besides the word: a disc for what meets, a triangle for what misses, a ring where nothing can be said. */
const outcomeHtml = (outcome: Outcome): string =>
  `<b class="${outcome}">${MARKS[outcome]} ${OUTCOME_WORDS[outcome]}</b>`;

function cellHtml(cell: Cell): string {
  if (typeof cell === 'string') return escaped(cell);
  if (cell.kind === 'outcome') return outcomeHtml(cell.outcome);
  if (cell.kind === 'code') return `<code>${escaped(cell.text)}</code>`;
  return `${escaped(cell.text)}<br><small>${escaped(cell.small)}</small>`;
}

function blockHtml(block: Block): string {
  switch (block.kind) {
    case 'title':
      return `<h1>${escaped(block.text)}</h1>`;
    case 'heading':
      return `<h2>${escaped(block.text)}</h2>`;
    case 'text':
      return `<p>${escaped(block.text)}</p>`;
    case 'quiet':
      return `<p class="sub">${escaped(block.text)}</p>`;
    case 'verdict':
      return `<p class="big">${outcomeHtml(block.outcome)} ${escaped(block.text)}</p>`;
    case 'drawing':
      return drawingSvg(block.drawing);
    case 'table':
      return [
        `<table><caption>${escaped(block.caption)}</caption><thead><tr>`,
        ...block.heads.map((head) => `<th scope="col">${escaped(head)}</th>`),
        '</tr></thead><tbody>',
        ...block.rows.map(
          ([first, ...others]) =>
            `<tr><th scope="row">${cellHtml(first!)}</th>${others.map((one) => `<td>${cellHtml(one)}</td>`).join('')}</tr>`,
        ),
        '</tbody></table>',
      ].join('');
  }
}

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

/** What a report is called, whatever it is shown as. */
export const reportTitle = ({ programme }: ProgrammeReport): string => `${programme.name}: loudness report`;

/**
 * A report as one page that needs nothing else.
 * @param full with findings and every clip; otherwise what a client wants to know
 */
export const reportHtml = (report: ProgrammeReport, full: boolean): string =>
  [
    '<!doctype html><html lang="en"><head><meta charset="utf-8">',
    '<meta name="viewport" content="width=device-width">',
    // Nothing is loaded, whatever names and texts hold.
    `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; style-src 'unsafe-inline'">`,
    `<title>${escaped(reportTitle(report))}</title><style>${STYLE}</style></head><body><main>`,
    ...reportBlocks(report, full).map(blockHtml),
    '</main></body></html>',
    '\n',
  ].join('');

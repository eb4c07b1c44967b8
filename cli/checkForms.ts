import { FINDING_NAMES } from '@/core/check/findings/finding';
import { OUTCOME_WORDS } from '@/core/check/verdict';
import { checkTable, type CheckedFile } from '@/core/deliver/checkReport';
import { clock } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { csvRow } from './csv';
import { shown } from './say';

/** For people: a line a file and target, and the findings where they are asked for. */
export function checkLines(checked: CheckedFile, withFindings: boolean): string {
  if ('error' in checked)
    return `${shown(checked.file)}  fails: ${checked.error.message} ${checked.error.hint}`;
  const { file, lines, report } = checked;
  const heads = lines.map(
    ({ name, outcome, words }) =>
      `${shown(file)}  ${name}: ${OUTCOME_WORDS[outcome].toLowerCase()}: ${words}`,
  );
  if (!withFindings) return heads.join('\n');
  const told = report.findings.map(
    ({ kind, from, to, weight, sentence, fix }) =>
      `  ${weight === 'breaks' ? '!' : '·'} ${clock(from)}${to > from ? ` to ${clock(to)}` : ''}  ${FINDING_NAMES[kind]}: ${sentence}${fix ? ` ${fix.sentence}` : ''}`,
  );
  return [
    ...heads,
    told.length === 0 ? '  nothing found' : `  ${count(told.length, 'finding')}:`,
    ...told,
  ].join('\n');
}

/** A line a file and target. */
export const checkCsv = (files: readonly CheckedFile[]): string =>
  `${checkTable(files).map(csvRow).join('\n')}\n`;

import { OUTCOME_WORDS, type Outcome } from '@/core/check/verdict';
import { type Cell, type Table } from '@/core/deliver/report/document';
import { INKS } from '@/core/deliver/report/drawing';
import { colour, LEADING, QUIET, TEXT, type Sheet, type TextStyle } from './sheet';
import type { Element } from './tags';

const BODY: TextStyle = { size: 8.5, weight: 'regular', color: TEXT };
const HEAD: TextStyle = { size: 7.5, weight: 'regular', color: QUIET };
const SMALL: TextStyle = { size: 7.5, weight: 'regular', color: QUIET };
const CODE: TextStyle = { size: 7, weight: 'regular', color: TEXT };
const LINE = BODY.size * LEADING;
const GAP = 8;
const PAD = 3;
/** Room for the mark before a verdict. */
const MARK = 10;

export const verdictColour = (outcome: Outcome) =>
  outcome === 'meets' ? colour(INKS.wave) : outcome === 'misses' ? colour(INKS.limit) : TEXT;

/** A mark besides the word: a disc for what meets, a triangle for what misses, a ring where nothing can be said. */
export function mark(
  sheet: Sheet,
  outcome: Outcome,
  x: number,
  y: number,
  size: number,
  element: Element,
): void {
  const { page } = sheet;
  const color = verdictColour(outcome);
  sheet.tags.draw(page, element, () => {
    if (outcome === 'misses')
      page.drawSvgPath(`M0 ${size} L${size} ${size} L${size / 2} 0 Z`, {
        x,
        y: y + size,
        color,
        borderWidth: 0,
      });
    else
      page.drawCircle({
        ...{ x: x + size / 2, y: y + size / 2, size: size / 2 - 0.4 },
        ...(outcome === 'meets' ? { color } : { borderColor: color, borderWidth: 0.8 }),
      });
  });
}

interface Line {
  readonly text: string;
  readonly style: TextStyle;
}

/** A field in lines, with the mark before it. */
interface Field {
  readonly lines: readonly Line[];
  /** `undefined` where it is no verdict. */
  readonly outcome: Outcome | undefined;
}

async function fieldOf(sheet: Sheet, cell: Cell, width: number): Promise<Field> {
  const wrap = async (text: string, style: TextStyle, anywhere = false): Promise<Line[]> =>
    (await sheet.fonts.lines(text, style.weight, width / style.size, anywhere)).map((line) => ({
      text: line,
      style,
    }));
  if (typeof cell === 'string') return { lines: await wrap(cell, BODY), outcome: undefined };
  switch (cell.kind) {
    case 'outcome': {
      const style: TextStyle = { ...BODY, weight: 'bold', color: verdictColour(cell.outcome) };
      return { lines: [{ text: OUTCOME_WORDS[cell.outcome], style }], outcome: cell.outcome };
    }
    case 'two':
      return {
        lines: [...(await wrap(cell.text, BODY)), ...(await wrap(cell.small, SMALL))],
        outcome: undefined,
      };
    case 'code':
      return { lines: await wrap(cell.text, CODE, true), outcome: undefined };
  }
}

/** Draws a table; its heads stand again on every page it goes on to. */
export async function drawTable(sheet: Sheet, table: Table): Promise<void> {
  const { tags } = sheet;
  const all = tags.add('Table');
  const columns = table.widths.map((share, i) => ({
    x: sheet.left + table.widths.slice(0, i).reduce((a, b) => a + b, 0) * sheet.width,
    width: share * sheet.width - GAP,
  }));
  sheet.need(5 * LINE);
  const caption = tags.add('Caption', all);
  sheet.y -= 8;
  await sheet.paragraph(table.caption, { size: 9.5, weight: 'bold', color: TEXT }, caption);
  const heads = async (tagged: boolean): Promise<void> => {
    const row = tagged ? tags.add('TR', all) : null;
    sheet.y -= HEAD.size * LEADING + PAD;
    for (const [i, head] of table.heads.entries()) {
      const element = row && tags.add('TH', row);
      if (element) tags.heads(element, 'Column');
      await sheet.write(head, columns[i]!.x, sheet.y + PAD, HEAD, element);
    }
    sheet.rule(sheet.y);
  };
  await heads(true);
  for (const cells of table.rows) {
    const fields = await Promise.all(cells.map((cell, i) => fieldOf(sheet, cell, columns[i]!.width)));
    const row = tags.add('TR', all);
    const elements = fields.map((_, i) => {
      const element = tags.add(i === 0 ? 'TH' : 'TD', row);
      if (i === 0) tags.heads(element, 'Row');
      return element;
    });
    const tallest = fields.reduce((most, { lines }) => Math.max(most, lines.length), 1);
    let done = 0;
    while (done < tallest) {
      const fits = Math.floor((sheet.room - 2 * PAD) / LINE);
      // A row stays together where it fits on a page at all.
      if (fits < 1 || (done === 0 && fits < tallest && sheet.y < sheet.top - 4 * LINE)) {
        sheet.newPage();
        await heads(false);
        continue;
      }
      const count = Math.min(fits, tallest - done);
      for (const [i, { lines, outcome }] of fields.entries()) {
        const { x } = columns[i]!;
        for (const [k, { text, style }] of lines.slice(done, done + count).entries()) {
          const y = sheet.y - PAD - (k + 1) * LINE + style.size * 0.3;
          if (outcome !== undefined) mark(sheet, outcome, x, y, 6, elements[i]!);
          await sheet.write(text, x + (outcome === undefined ? 0 : MARK), y, style, elements[i]!);
        }
      }
      sheet.y -= count * LINE + 2 * PAD;
      done += count;
    }
    sheet.rule(sheet.y);
  }
  sheet.y -= 6;
}

import { OUTCOME_WORDS } from '@/core/check/verdict';
import { PDFDocument } from 'pdf-lib';
import { reportBlocks, type Block } from '@/core/deliver/report/document';
import { INKS, type Drawing } from '@/core/deliver/report/drawing';
import { reportTitle } from '@/core/deliver/report/html';
import type { ProgrammeReport } from '@/core/deliver/report/report';
import { Fonts, type FontFiles } from './fonts';
import { colour, QUIET, Sheet, TEXT, type Paper, type TextStyle } from './sheet';
import { drawTable, mark, verdictColour } from './table';
import { Tags } from './tags';

const STYLES = {
  title: { size: 18, weight: 'bold', color: TEXT },
  heading: { size: 11, weight: 'bold', color: TEXT },
  text: { size: 9.5, weight: 'regular', color: TEXT },
  quiet: { size: 8.5, weight: 'regular', color: QUIET },
  verdict: { size: 13, weight: 'bold', color: TEXT },
} as const satisfies Record<string, TextStyle>;

const WORDS: TextStyle = { size: 7, weight: 'regular', color: QUIET };

async function drawPicture(sheet: Sheet, { label, width, height, shapes }: Drawing): Promise<void> {
  const scale = sheet.width / width;
  sheet.need(height * scale + 6);
  const figure = sheet.tags.add('Figure');
  sheet.tags.describe(figure, label);
  const top = sheet.y - 4;
  const { page, left } = sheet;
  const x = (at: number): number => left + at * scale;
  const y = (at: number): number => top - at * scale;
  sheet.tags.draw(page, figure, () => {
    for (const shape of shapes) {
      if (shape.kind === 'box')
        page.drawRectangle({
          ...{ x: x(shape.x), y: y(shape.y + shape.height), width: shape.width * scale },
          ...{ height: shape.height * scale, color: colour(INKS[shape.ink]) },
        });
      else if (shape.kind === 'line')
        page.drawLine({
          start: { x: x(shape.from[0]), y: y(shape.from[1]) },
          end: { x: x(shape.to[0]), y: y(shape.to[1]) },
          ...{ thickness: 0.6, color: colour(INKS[shape.ink]) },
          ...(shape.dash && { dashArray: shape.dash.map((part) => part * scale) }),
        });
      else if (shape.kind === 'path') {
        const d = shape.runs
          .map((run) =>
            run
              .map(
                ([px, py], i) =>
                  `${i === 0 ? 'M' : 'L'}${(px * scale).toFixed(2)} ${(py * scale).toFixed(2)}`,
              )
              .join(''),
          )
          .join('');
        if (d)
          page.drawSvgPath(d, { x: left, y: top, borderColor: colour(INKS[shape.ink]), borderWidth: 0.9 });
      }
    }
  });
  for (const shape of shapes)
    if (shape.kind === 'words')
      await sheet.write(shape.text, x(shape.at[0]), y(shape.at[1]), WORDS, figure, shape.anchor);
  sheet.y = top - height * scale - 4;
}

async function drawBlock(sheet: Sheet, block: Block): Promise<void> {
  const { tags } = sheet;
  switch (block.kind) {
    case 'title':
      return sheet.paragraph(block.text, STYLES.title, tags.add('H1'));
    case 'heading': {
      sheet.need(120);
      sheet.y -= 10;
      return sheet.paragraph(block.text, STYLES.heading, tags.add('H2'));
    }
    case 'text':
    case 'quiet':
      sheet.y -= 2;
      return sheet.paragraph(block.text, STYLES[block.kind], tags.add('P'));
    case 'verdict': {
      const element = tags.add('P');
      const style = { ...STYLES.verdict, color: verdictColour(block.outcome) };
      sheet.y -= 6;
      sheet.need(40);
      mark(sheet, block.outcome, sheet.left, sheet.y - 14, 9, element);
      return sheet.paragraph(`${OUTCOME_WORDS[block.outcome]} ${block.text}`, style, element, 15);
    }
    case 'drawing':
      return drawPicture(sheet, block.drawing);
    case 'table':
      return drawTable(sheet, block);
  }
}

/** “2026-01-31 21:04:00”, local time, as a date. */
const dateOf = (text: string): Date => {
  const date = new Date(text.replace(' ', 'T'));
  return Number.isNaN(date.getTime()) ? new Date(0) : date;
};

/**
 * A report as PDF: text that can be selected, fonts within, tagged, with title and language.
 * @param full with findings and every clip; otherwise what a client wants to know
 * @param fonts bytes of the faces, parts by script, see `FONT_PARTS`
 */
export async function reportPdf(
  report: ProgrammeReport,
  full: boolean,
  paper: Paper,
  fonts: FontFiles,
): Promise<Uint8Array<ArrayBuffer>> {
  const document = await PDFDocument.create();
  const made = dateOf(report.made);
  document.setTitle(reportTitle(report), { showInWindowTitleBar: true });
  document.setLanguage('en');
  document.setCreator(`${report.software.name} ${report.software.version}`);
  document.setProducer(`${report.software.name} ${report.software.version}`);
  document.setCreationDate(made);
  document.setModificationDate(made);
  const tags = new Tags(document);
  const sheet = new Sheet(document, new Fonts(document, fonts), tags, paper);
  for (const block of reportBlocks(report, full)) await drawBlock(sheet, block);
  const { unknown } = sheet.fonts;
  if (unknown.size > 0)
    await drawBlock(sheet, {
      kind: 'quiet',
      text: 'Letters that these fonts do not have stand as a question mark; the page as HTML has them.',
    });
  await sheet.number(reportTitle(report));
  tags.finish();
  return (await document.save()) as Uint8Array<ArrayBuffer>;
}

import { rgb, type Color, type PDFDocument, type PDFPage } from 'pdf-lib';
import type { Fonts, Weight } from './fonts';
import type { Element, Tags } from './tags';

/** A size of paper, points. */
export const PAPERS = { A4: [595.28, 841.89], Letter: [612, 792] } as const;
export type Paper = keyof typeof PAPERS;

const MARGIN = 42;
const FOOT = 30;

/** A colour from “#24595c”. */
export function colour(hex: string): Color {
  const part = (at: number): number => parseInt(hex.slice(at, at + 2), 16) / 255;
  return rgb(part(1), part(3), part(5));
}

export const TEXT = colour('#1c2024');
export const QUIET = colour('#555555');
const RULE = colour('#cccccc');

export interface TextStyle {
  readonly size: number;
  readonly weight: Weight;
  readonly color: Color;
}

/** Lines stand so far apart, as a part of the size of their letters. */
export const LEADING = 1.35;

/** Pages that are filled from the top down. */
export class Sheet {
  readonly pages: PDFPage[] = [];
  /** Where the next thing goes: how far it is from the lower edge, points. */
  y = 0;
  readonly left = MARGIN;
  readonly width: number;
  readonly top: number;

  constructor(
    private readonly document: PDFDocument,
    readonly fonts: Fonts,
    readonly tags: Tags,
    private readonly paper: Paper,
  ) {
    const [width, height] = PAPERS[paper];
    this.width = width - 2 * MARGIN;
    this.top = height - MARGIN;
    this.newPage();
  }

  get page(): PDFPage {
    return this.pages.at(-1)!;
  }

  /** What is left of the page, points. */
  get room(): number {
    return this.y - MARGIN;
  }

  newPage(): void {
    this.pages.push(this.document.addPage([...PAPERS[this.paper]]));
    this.y = this.top;
  }

  /** Goes on to the next page where there is no room for so much. */
  need(height: number): void {
    if (this.room < height && this.y < this.top) this.newPage();
  }

  /** Draws a line of text. @param x, y its left end and its base */
  async write(
    text: string,
    x: number,
    y: number,
    { size, weight, color }: TextStyle,
    element: Element | null,
    anchor: 'start' | 'middle' | 'end' = 'start',
    page = this.page,
  ): Promise<void> {
    const runs = await this.fonts.runs(text, weight);
    const wide = runs.reduce((sum, { width }) => sum + width, 0) * size;
    let at = anchor === 'start' ? x : anchor === 'middle' ? x - wide / 2 : x - wide;
    this.tags.draw(page, element, () => {
      for (const { font, text: part, width } of runs) {
        page.drawText(part, { x: at, y, size, font, color });
        at += width * size;
      }
    });
  }

  /** A paragraph over the whole width. @param x how far from the left edge it begins */
  async paragraph(text: string, style: TextStyle, element: Element, indent = 0): Promise<void> {
    const lines = await this.fonts.lines(text, style.weight, (this.width - indent) / style.size);
    for (const line of lines) {
      this.need(style.size * LEADING);
      this.y -= style.size * LEADING;
      await this.write(line, this.left + indent, this.y + style.size * 0.25, style, element);
    }
  }

  rule(y: number): void {
    this.tags.draw(this.page, null, () =>
      this.page.drawLine({
        start: { x: this.left, y },
        end: { x: this.left + this.width, y },
        thickness: 0.5,
        color: RULE,
      }),
    );
  }

  /** Numbers the pages. @param text what stands at their foot, before the number */
  async number(text: string): Promise<void> {
    const style: TextStyle = { size: 8, weight: 'regular', color: QUIET };
    const [shown] = await this.fonts.lines(text, 'regular', (this.width - 60) / style.size);
    for (const [i, page] of this.pages.entries()) {
      await this.write(shown!, this.left, FOOT - 8, style, null, 'start', page);
      const number = `${i + 1} of ${this.pages.length}`;
      await this.write(number, this.left + this.width, FOOT - 8, style, null, 'end', page);
    }
  }
}

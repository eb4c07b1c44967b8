import fontkit from '@pdf-lib/fontkit';
import type { PDFDocument, PDFFont } from 'pdf-lib';

/** The bytes of one face in its parts by script: Latin first. */
type FontParts = readonly Uint8Array[];

/** The faces of a paper. */
export interface FontFiles {
  readonly regular: FontParts;
  readonly bold: FontParts;
}

export type Weight = keyof FontFiles;

/** The parts that are needed of each face, by the names they have in their package. */
export const FONT_PARTS = ['latin', 'latin-ext', 'greek', 'cyrillic'] as const;

/** Stands for a letter that no part has. */
const UNKNOWN = '?';

/** Letters of one part that follow each other. */
export interface TextRun {
  readonly font: PDFFont;
  readonly text: string;
  /** At a size of 1. */
  readonly width: number;
}

interface Part {
  readonly bytes: Uint8Array;
  readonly has: (codePoint: number) => boolean;
  font: Promise<PDFFont> | null;
}

interface Glyph {
  readonly part: Part;
  readonly letter: string;
}

/** Figures stand under each other; letters are as they are typed. */
const FEATURES = { tnum: true, calt: false, liga: false, kern: false };

/** The fonts of one paper: only those parts are embedded, and of them only those letters, that are used. */
export class Fonts {
  private readonly parts: Readonly<Record<Weight, readonly Part[]>>;
  private readonly widths = new Map<PDFFont, Map<string, number>>();
  /** Letters that no part has. */
  readonly unknown = new Set<string>();

  constructor(
    private readonly document: PDFDocument,
    files: FontFiles,
  ) {
    document.registerFontkit(fontkit);
    const read = (bytes: Uint8Array): Part => {
      const font = fontkit.create(bytes);
      return { bytes, has: (point) => font.hasGlyphForCodePoint(point), font: null };
    };
    this.parts = { regular: files.regular.map(read), bold: files.bold.map(read) };
  }

  private glyph(letter: string, weight: Weight): Glyph {
    const parts = this.parts[weight];
    const point = letter.codePointAt(0)!;
    const part = parts.find(({ has }) => has(point));
    if (part) return { part, letter };
    this.unknown.add(letter);
    return { part: parts[0]!, letter: UNKNOWN };
  }

  private embedded(part: Part): Promise<PDFFont> {
    part.font ??= this.document.embedFont(part.bytes, { subset: true, features: FEATURES });
    return part.font;
  }

  private width(font: PDFFont, letter: string): number {
    const known = this.widths.get(font) ?? new Map<string, number>();
    this.widths.set(font, known);
    const width = known.get(letter) ?? font.widthOfTextAtSize(letter, 1);
    known.set(letter, width);
    return width;
  }

  /** A text as runs of letters that one font has; control characters become spaces. */
  async runs(text: string, weight: Weight): Promise<readonly TextRun[]> {
    const runs: { font: PDFFont; text: string; width: number }[] = [];
    for (const letter of text.replace(
      /[\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]/g,
      ' ',
    )) {
      const { part, letter: shown } = this.glyph(letter, weight);
      const font = await this.embedded(part);
      const width = this.width(font, shown);
      const last = runs.at(-1);
      if (last?.font === font) {
        last.text += shown;
        last.width += width;
      } else runs.push({ font, text: shown, width });
    }
    return runs;
  }

  /** How wide a text is at a size of 1. */
  async widthOf(text: string, weight: Weight): Promise<number> {
    return (await this.runs(text, weight)).reduce((sum, { width }) => sum + width, 0);
  }

  /**
   * A text in lines that are no wider than so much at a size of 1; words that are wider are broken.
   * @param anywhere broken between any two letters
   */
  async lines(text: string, weight: Weight, most: number, anywhere = false): Promise<readonly string[]> {
    const lines: string[] = [];
    let line = '';
    let width = 0;
    const pieces = anywhere ? [...text] : text.split(/(?<=\s)|(?=\s)/);
    for (const piece of pieces) {
      const wide = await this.widthOf(piece, weight);
      const space = /^\s+$/.test(piece);
      if (width + wide <= most || (space && line === '')) {
        if (space && line === '') continue;
        line += piece;
        width += wide;
      } else if (space) {
        lines.push(line);
        [line, width] = ['', 0];
      } else if (wide <= most) {
        lines.push(line);
        [line, width] = [piece, wide];
      } else {
        // A word wider than the line begins where the line is and is broken by letters.
        for (const letter of piece) {
          const one = await this.widthOf(letter, weight);
          if (width + one > most && line !== '') {
            lines.push(line);
            [line, width] = ['', 0];
          }
          line += letter;
          width += one;
        }
      }
    }
    lines.push(line);
    const kept = lines.map((one) => one.trimEnd()).filter((one) => one !== '');
    return kept.length > 0 ? kept : [''];
  }
}

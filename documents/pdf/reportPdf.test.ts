import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { getDocumentProxy } from 'unpdf';
import { describe, expect, it } from 'vitest';
import { reportBlocks } from '@/core/deliver/report/document';
import type { ProgrammeReport } from '@/core/deliver/report/report';
import { testReport } from '@/core/testing/reports';
import { FONT_PARTS, type FontFiles } from './fonts';
import { reportPdf } from './reportPdf';
import { PAPERS, type Paper } from './sheet';

const folder = dirname(createRequire(import.meta.url).resolve('@fontsource/inter/package.json'));
const face = (weight: number): Uint8Array[] =>
  FONT_PARTS.map((part) => readFileSync(join(folder, `files/inter-${part}-${weight}-normal.woff`)));
const FONTS: FontFiles = { regular: face(400), bold: face(600) };

interface Node {
  readonly role?: string;
  readonly type?: string;
  readonly id?: string;
  readonly alt?: string;
  readonly children?: readonly Node[];
}

/** A paper as another reader has it: its text in the order of its structure, what is tagged as what, sizes of pages. */
async function read(bytes: Uint8Array) {
  const pdf = await getDocumentProxy(bytes.slice());
  const roles: string[] = [];
  const alts: string[] = [];
  const texts: string[] = [];
  const outside: string[] = [];
  const sizes: number[][] = [];
  for (let i = 1; i <= pdf.numPages; i++) {
    const page = await pdf.getPage(i);
    sizes.push(page.view.slice(2));
    const items = (await page.getTextContent({ includeMarkedContent: true })).items as readonly {
      readonly type?: string;
      readonly id?: string;
      readonly str?: string;
    }[];
    const marked = new Map<string, string>();
    let open: string | null = null;
    for (const item of items) {
      if (item.type?.startsWith('beginMarkedContent')) open = item.id ?? null;
      else if (item.type === 'endMarkedContent') open = null;
      else if (item.str && open) marked.set(open, (marked.get(open) ?? '') + item.str);
      else if (item.str?.trim()) outside.push(item.str);
    }
    const walk = (node: Node): void => {
      if (node.role) roles.push(node.role);
      if (node.alt) alts.push(node.alt);
      if (node.type === 'content') texts.push(marked.get(node.id!) ?? '');
      node.children?.forEach(walk);
    };
    walk((await page.getStructTree()) as Node);
  }
  const { info } = (await pdf.getMetadata()) as unknown as { info: Record<string, unknown> };
  const markInfo = await pdf.getMarkInfo();
  return { pages: pdf.numPages, roles, alts, outside, sizes, info, markInfo, text: texts.join(' ') };
}

const plain = (text: string): string => text.replace(/\s+/g, '');

/** All words that a report has on its pages. */
const wordsOf = (report: ProgrammeReport, full: boolean): string[] =>
  reportBlocks(report, full).flatMap((block): string[] => {
    if (block.kind === 'drawing') return [];
    if (block.kind !== 'table') return [block.text];
    return [
      ...[block.caption, ...block.heads],
      ...block.rows
        .flat()
        .flatMap((cell) =>
          typeof cell === 'string'
            ? [cell]
            : cell.kind === 'two'
              ? [cell.text, cell.small]
              : cell.kind === 'code'
                ? [cell.text]
                : [],
        ),
    ];
  });

describe('a report as PDF', () => {
  it.each([
    ['A4', false],
    ['Letter', true],
  ] as const)(
    'on %s (full: %s) has every word that the report has, in order and tagged',
    async (paper: Paper, full) => {
      const report = await testReport({ clips: full ? 60 : 2, files: 2 });
      const found = await read(await reportPdf(report, full, paper, FONTS));
      const text = plain(found.text);
      let at = 0;
      for (const words of wordsOf(report, full)) {
        const next = text.indexOf(plain(words), at);
        expect(next, words).toBeGreaterThanOrEqual(0);
        at = next;
      }
      // What is outside of the structure are the foot and the heads that stand again.
      expect(found.outside).toContain(`1 of ${found.pages}`);
      expect(found.pages > 1).toBe(full);
      for (const size of found.sizes) expect(size[0]).toBeCloseTo(PAPERS[paper][0], 1);
      expect(found.roles).toEqual(expect.arrayContaining(['H1', 'P', 'Table', 'TR', 'TH', 'TD', 'Figure']));
      expect(found.alts[0]).toContain('Short-term loudness over time');
      expect(found.info).toMatchObject({
        Title: `${report.programme.name}: loudness report`,
        Language: 'en',
      });
      expect(found.markInfo).toMatchObject({ Marked: true });
    },
  );

  it('takes names of any script and any length, and says where letters are missing', async () => {
    const made = await testReport({ clips: 1, files: 1 });
    const names = 'Příběh – Морозная линия – Ωμέγα ‏\u0007 漢字 '.repeat(12) + 'x'.repeat(900);
    const report = { ...made, clips: [{ ...made.clips[0]!, name: names, reason: names.repeat(20) }] };
    const { text, pages } = await read(await reportPdf(report, true, 'A4', FONTS));
    expect(plain(text)).toContain(plain('Příběh – Морозная линия – Ωμέγα'));
    expect(plain(text)).toContain('x'.repeat(900));
    expect(text).toContain('stand as a question mark');
    expect(pages).toBeGreaterThan(1);
  });

  it('is the same to the byte when it is made again', async () => {
    const report = await testReport({ clips: 2, files: 1 });
    const [a, b] = [await reportPdf(report, false, 'A4', FONTS), await reportPdf(report, false, 'A4', FONTS)];
    expect(Buffer.compare(a, b)).toBe(0);
  });
});

import { expose, transfer } from 'comlink';
import type { ProgrammeReport } from '@/core/deliver/report/report';
import { FONT_PARTS, type FontFiles } from '@/documents/pdf/fonts';
import { reportPdf } from '@/documents/pdf/reportPdf';
import type { Paper } from '@/documents/pdf/sheet';

/** Comes with the product: see `scripts/lib/servedFiles.mjs`. */
async function fontFile(part: string, weight: number): Promise<Uint8Array> {
  const answer = await fetch(`/fonts/inter-${part}-${weight}-normal.woff`);
  if (!answer.ok) throw new Error(`A font could not be loaded (${answer.status}).`);
  return new Uint8Array(await answer.arrayBuffer());
}

const face = (weight: number): Promise<Uint8Array[]> =>
  Promise.all(FONT_PARTS.map((part) => fontFile(part, weight)));

async function load(): Promise<FontFiles> {
  const [regular, bold] = await Promise.all([face(400), face(600)]);
  return { regular, bold };
}

let fonts: Promise<FontFiles> | null = null;

/** Loaded when first needed; where that failed, tried again the next time. */
function loaded(): Promise<FontFiles> {
  fonts ??= load().catch((error: unknown) => {
    fonts = null;
    throw error;
  });
  return fonts;
}

const api = {
  async report(report: ProgrammeReport, full: boolean, paper: Paper): Promise<Uint8Array<ArrayBuffer>> {
    const bytes = await reportPdf(report, full, paper, await loaded());
    return transfer(bytes, [bytes.buffer]);
  },
};

export type PaperApi = typeof api;

expose(api);

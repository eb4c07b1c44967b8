import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { FONT_PARTS, type FontFiles } from '@/documents/pdf/fonts';

/** One face out of its package, a file a script. */
const face = (weight: number): Promise<Uint8Array[]> => {
  const { resolve } = createRequire(import.meta.url);
  return Promise.all(
    FONT_PARTS.map((part) =>
      readFile(resolve(`@fontsource/inter/files/inter-${part}-${weight}-normal.woff`)),
    ),
  );
};

/** The faces of papers. */
export async function paperFonts(): Promise<FontFiles> {
  const [regular, bold] = await Promise.all([face(400), face(600)]);
  return { regular, bold };
}

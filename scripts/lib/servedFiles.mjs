// Puts what comes out of packages among the files that the product serves: the network of the voice detector, and the fonts of papers.
import { copyFileSync, existsSync, mkdirSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { root } from './install.mjs';

const FONTS = ['latin', 'latin-ext', 'greek', 'cyrillic'].flatMap((part) =>
  [400, 600].map((weight) => `inter-${part}-${weight}-normal.woff`),
);

const FILES = [
  ['@ricky0123/vad-web/dist/silero_vad_v6.onnx', 'voice/silero_vad_v6.onnx'],
  ...FONTS.map((name) => [`@fontsource/inter/files/${name}`, `fonts/${name}`]),
];

export function placeServedFiles() {
  for (const [inPackage, served] of FILES) {
    const [from, to] = [`${root}node_modules/${inPackage}`, `${root}public/${served}`];
    if (existsSync(to) && statSync(to).size === statSync(from).size) continue;
    mkdirSync(dirname(to), { recursive: true });
    copyFileSync(from, to);
  }
}

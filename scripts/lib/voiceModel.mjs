// Puts the network of the voice detector among the files that the product serves: it comes out of its package.
import { copyFileSync, existsSync, statSync } from 'node:fs';
import { root } from './install.mjs';

const from = `${root}node_modules/@ricky0123/vad-web/dist/silero_vad_v6.onnx`;
const to = `${root}public/voice/silero_vad_v6.onnx`;

export function placeVoiceModel() {
  if (existsSync(to) && statSync(to).size === statSync(from).size) return;
  copyFileSync(from, to);
}

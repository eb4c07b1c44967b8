import { open } from 'node:fs/promises';
import { statedOf } from '@/core/deliver/fileSaid';
import { loudnessBytes } from '@/core/formats/wav/bext';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { osPath } from './names';

/** Writes into a file what it measures. @param at where that stands, bytes from its start */
export async function stateLoudness(path: string, at: number, figures: LoudnessFigures): Promise<void> {
  const bytes = loudnessBytes(statedOf(figures));
  const handle = await open(osPath(path), 'r+');
  try {
    await handle.write(bytes, 0, bytes.length, at);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

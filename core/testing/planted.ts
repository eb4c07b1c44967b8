import { layoutFor, type Layout } from '@/core/audio/layout';
import { fileMaterial } from '@/core/check/findings/fileMaterial';
import type { CheckMaterial } from '@/core/check/findings/material';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { measureReader } from '@/core/loudness/measureReader';
import { memoryReader, noise } from './signals';

/** Of made-up sounds for checks, Hz: low, so that they are quickly measured. */
export const PLANTED_RATE = 16_000;

/**
 * Sound with nothing wrong in it: soft noise that swells a little, its channels partly in common.
 * @param rms of each channel, about
 */
export function cleanSound(seconds: number, channels: number, rms: number, seed: number): Float32Array[] {
  const frames = Math.round(seconds * PLANTED_RATE);
  const common = noise(frames + 8, 1, seed);
  return Array.from({ length: channels }, (_, c) => {
    const own = noise(frames + 8, 1, 77 * seed + c + 1);
    const out = new Float32Array(frames);
    const [swell, shift] = [2 + (seed % 5), (seed % 7) / 3];
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      for (let j = 0; j < 8; j++) sum += common[i + j]! + 0.7 * own[i + j]!;
      const level = 1 + 0.2 * Math.sin((2 * Math.PI * i) / (swell * PLANTED_RATE) + shift);
      // Eight values of noise, uniform in ±1, with a little more than 1.2 times their power.
      out[i] = (sum / Math.sqrt(8 * 1.49 * 0.333)) * level * rms;
    }
    return out;
  });
}

/** What is found in some samples. */
export async function materialOf(
  samples: Float32Array[],
  layout: Layout = layoutFor(samples.length),
  speech: readonly TimeRange[] | null = null,
): Promise<CheckMaterial> {
  const reader = memoryReader(samples, PLANTED_RATE, layout);
  return fileMaterial((await measureReader(reader, () => true))!, reader.format, speech);
}

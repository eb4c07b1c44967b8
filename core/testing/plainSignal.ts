import { programmeLayout } from '@/core/audio/layout';
import type { SignalBlocks } from '@/core/loudness/signalBlocks';
import { programmeFrames, type Project } from '@/core/programme/model';
import { renderRange } from '@/core/signal/mix';
import { openTestSource } from './projects';

/** The sums over every 100 ms of some samples, one sample after the other. */
function plainSignal(
  samples: readonly Float32Array[],
  sampleRate: number,
): Omit<SignalBlocks, 'steps' | 'framesPerBlock'> {
  const frames = samples[0]!.length;
  const blocks = Math.ceil((frames * 10) / sampleRate);
  const each = (of: (i: number) => number): Float32Array =>
    Float32Array.from({ length: blocks }, (_, k) => {
      const end = Math.min(frames, Math.round(((k + 1) * sampleRate) / 10));
      let sum = 0;
      for (let i = Math.round((k * sampleRate) / 10); i < end; i++) sum += of(i);
      return sum;
    });
  const [a, b] = samples;
  return {
    sum: samples.map((x) => each((i) => x[i]!)),
    power: samples.map((x) => each((i) => x[i]! * x[i]!)),
    product: b ? each((i) => a![i]! * b[i]!) : new Float32Array(0),
  };
}

/** The largest difference between what was taken of a programme and what its samples sum up to, full scale = 1. */
export async function signalDifference(project: Project, found: SignalBlocks): Promise<number> {
  const frames = programmeFrames(project);
  const silence = programmeLayout(project.layoutId).labels.map(() => new Float32Array(0));
  const samples = frames > 0 ? await renderRange(project, openTestSource, 0, frames) : silence;
  const plain = plainSignal(samples, project.sampleRate);
  const pairs: [Float32Array, Float32Array][] = [
    ...plain.sum.map((values, c): [Float32Array, Float32Array] => [values, found.sum[c]!]),
    ...plain.power.map((values, c): [Float32Array, Float32Array] => [values, found.power[c]!]),
    [plain.product, found.product],
  ];
  let most = 0;
  for (const [one, other] of pairs) {
    if (one.length !== other.length) return Infinity;
    one.forEach((value, k) => (most = Math.max(most, Math.abs(value - other[k]!) / found.framesPerBlock)));
  }
  return most;
}

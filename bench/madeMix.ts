import { readFileSync } from 'node:fs';
import { bytesSource } from '@/core/audio/byteSource';
import { STEREO } from '@/core/audio/layout';
import type { AudioReader } from '@/core/audio/reader';
import { openPcm } from '@/core/formats/openPcm';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { memoryReader } from '@/core/testing/signals';

const RATE = 48_000;

/** What speaks in the demo, without the shouting and the laughing. */
const SPOKEN = [
  ...['narrator-1-last-car', 'narrator-2-the-hut', 'narrator-3-every-hour', 'narrator-4-pressure'],
  ...['narrator-5-morning', 'observer-indoors-1-kettle', 'observer-indoors-2-figures'],
] as const;
const GAP_SECONDS = [1.2, 2.4, 0.9, 3.1, 1.7] as const;

async function mono(root: string, name: string): Promise<Float32Array> {
  const reader = await openPcm(bytesSource(readFileSync(`${root}public/demo/${name}.wav`)));
  const channels = await reader.read(0, reader.format.frames);
  return channels[0]!;
}

const rmsOf = (x: Float32Array): number => Math.sqrt(x.reduce((sum, y) => sum + y * y, 0) / x.length);

/** Where something is to be heard in dry speech: its tenths of a second within 30 dB of the loudest. */
function heardIn(x: Float32Array): TimeRange[] {
  const step = RATE / 10;
  const levels = Array.from({ length: Math.floor(x.length / step) }, (_, k) =>
    rmsOf(x.subarray(k * step, (k + 1) * step)),
  );
  const least = Math.max(...levels) * 10 ** (-30 / 20);
  return levels.flatMap((level, k) => (level >= least ? [{ from: k / 10, to: (k + 1) / 10 }] : []));
}

/** Speech over a bed, one voice after the other with pauses between; nothing wrong is planted in it. */
export interface MadeMix {
  readonly reader: AudioReader;
  /** When somebody speaks, seconds. */
  readonly speech: readonly TimeRange[];
}

/**
 * @param bed of the demo; looped with its ends run into each other
 * @param underDb how far the bed lies under speech
 */
export async function madeMix(root: string, seconds: number, bed: string, underDb: number): Promise<MadeMix> {
  const voices = await Promise.all(SPOKEN.map((name) => mono(root, name)));
  const level = 0.06;
  const spoken = voices.map((x) => {
    const gain = level / rmsOf(x);
    return x.map((y) => y * gain);
  });
  const raw = await mono(root, bed);
  // The end of the loop runs into its start.
  const fade = 2 * RATE;
  const length = raw.length - fade;
  const gain = (level * 10 ** (-underDb / 20)) / rmsOf(raw);
  const loop = Float32Array.from({ length }, (_, i) => {
    const part = i < fade ? i / fade : 1;
    return gain * (raw[i]! * Math.sqrt(part) + (i < fade ? raw[length + i]! * Math.sqrt(1 - part) : 0));
  });
  const placed: { readonly start: number; readonly sound: Float32Array }[] = [];
  const speech: TimeRange[] = [];
  for (let at = 2 * RATE, n = 0; ; n++) {
    const sound = spoken[(n * 3) % spoken.length]!;
    if (at + sound.length > (seconds - 2) * RATE) break;
    placed.push({ start: at, sound });
    speech.push(...heardIn(sound).map(({ from, to }) => ({ from: from + at / RATE, to: to + at / RATE })));
    at += sound.length + Math.round(GAP_SECONDS[n % GAP_SECONDS.length]! * RATE);
  }
  const { format } = memoryReader([new Float32Array(1), new Float32Array(1)], RATE, STEREO);
  const frames = seconds * RATE;
  return {
    speech,
    reader: {
      format: { ...format, frames },
      read(start, count) {
        const left = Float32Array.from({ length: count }, (_, i) => loop[(start + i) % length]!);
        // The bed is wide, speech in the middle.
        const right = Float32Array.from({ length: count }, (_, i) => loop[(start + i + 7919) % length]!);
        for (const { start: begin, sound } of placed) {
          const [from, to] = [Math.max(start, begin), Math.min(start + count, begin + sound.length)];
          for (let i = from; i < to; i++) {
            left[i - start]! += sound[i - begin]!;
            right[i - start]! += sound[i - begin]!;
          }
        }
        return Promise.resolve([left, right]);
      },
    },
  };
}

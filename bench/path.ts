import { readFileSync } from 'node:fs';
import { bytesSource } from '@/core/audio/byteSource';
import { openPcm } from '@/core/formats/openPcm';
import type { Limiter } from '@/core/programme/model';
import { countWork, limitedReader } from '@/core/signal/limiter/limitedReader';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { limiterTiming } from '@/core/signal/limiter/timing';
import { makeProgramme, type Programme } from './makeProgramme';

const SECONDS = 60;
/** Read at a time, seconds. */
const PIECE = 8;

/** How fast the limiter alone is on one core, and how much it has to do. @param hotDb gain before it */
async function limiterLine(kind: Programme['kind'], hotDb: number): Promise<string> {
  const file = makeProgramme({ kind, minutes: 1, channels: 2, sampleRate: 48_000, format: 's24' });
  const reader = await openPcm(bytesSource(new Uint8Array(readFileSync(file))));
  const { sampleRate, frames } = reader.format;
  // Reading and decoding are not the limiter's.
  const whole = await reader.read(0, frames);
  const memory = {
    format: reader.format,
    read: (start: number, count: number) =>
      Promise.resolve(
        whole.map((samples) => {
          const piece = new Float32Array(count);
          const from = Math.max(0, start);
          piece.set(samples.subarray(from, Math.max(from, Math.min(frames, start + count))), from - start);
          return piece;
        }),
      ),
  };
  const limiter: Limiter = { ...SPEECH_AND_MUSIC, inputDb: hotDb };
  const counter = countWork(sampleRate, frames);
  const limited = limitedReader(memory, limiter, counter.told);
  const began = performance.now();
  for (let start = 0; start < frames; start += PIECE * sampleRate)
    await limited.read(start, Math.min(PIECE * sampleRate, frames - start));
  const took = (performance.now() - began) / 1000;
  const { maxReductionDb, workingSeconds } = counter.work(limiterTiming(limiter, sampleRate).block);
  const part = Math.round((100 * workingSeconds) / SECONDS);
  return `  ${kind.padEnd(7)} ${`+${hotDb} dB`.padEnd(8)} ${(SECONDS / took).toFixed(0).padStart(5)} × real time; up to −${maxReductionDb.toFixed(1)} dB, at work ${part} % of the time`;
}

/** What lies on the path of sound, each by itself on one core. */
export async function benchPath(): Promise<string[]> {
  const lines = ['Limiter alone, 48 kHz stereo, one core, in pieces of 8 s'];
  for (const [kind, hotDb] of [
    ['speech', 6],
    ['speech', 18],
    ['music', 6],
    ['music', 18],
    ['noise', 6],
  ] as const)
    lines.push(await limiterLine(kind, hotDb));
  return lines;
}

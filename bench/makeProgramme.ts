import { closeSync, existsSync, openSync, statSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { layoutFor } from '@/core/audio/layout';
import { encodePcm, type WriteFormat } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';

/** What a programme sounds like: quiet gaps, none, or the worst there is for finding true peaks. */
type Kind = 'speech' | 'music' | 'noise';

export interface Programme {
  readonly kind: Kind;
  readonly minutes: number;
  readonly channels: number;
  readonly sampleRate: number;
  readonly format: WriteFormat;
}

/** Seconds that are made; longer programmes repeat them in another order. */
const MADE = 24;

function dice(seed: number): () => number {
  let state = (Math.imul(seed, 2654435761) + 1) >>> 0 || 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state / 2147483648 - 1;
  };
}

type Sample = (i: number, noise: number) => number;

/** Something like speech over a room; something like dense music, held under a ceiling; white noise. */
function sampleOf(kind: Kind, index: number, channel: number, rate: number): Sample {
  if (kind === 'noise') return (_, noise) => 0.5 * noise;
  if (kind === 'music') {
    const notes = [55, 110, 164.8, 220, 329.6, 523.3, 1046.5].map(
      (hz) => hz * 2 ** (((index * 5) % 12) / 12),
    );
    return (i, noise) => {
      const t = i / rate;
      const sum = notes.reduce(
        (total, hz, n) => total + Math.sin(2 * Math.PI * hz * t + n + channel) / (n + 2),
        0,
      );
      return Math.tanh(1.6 * sum * (0.6 + 0.4 * Math.abs(Math.sin(t * 6.5))) + 0.08 * noise) * 0.9;
    };
  }
  let low = 0;
  return (i, noise) => {
    low += 0.09 * (noise - low);
    const syllable = Math.max(0.004, Math.sin((index * rate + i) / (rate / 5.3)));
    return low * syllable * (index % 11 === 10 ? 0.02 : 1);
  };
}

function second({ kind, channels, sampleRate, format }: Programme, index: number): Uint8Array {
  const samples = Array.from({ length: channels }, (_, channel) => {
    const roll = dice(index * 31 + channel);
    const sample = sampleOf(kind, index, channel, sampleRate);
    return Float32Array.from({ length: sampleRate }, (__, i) => sample(i, roll()));
  });
  return encodePcm(samples, sampleRate, format).bytes;
}

/** A WAV file in the temporary folder; made once. */
export function makeProgramme(programme: Programme): string {
  const { kind, minutes, channels, sampleRate, format } = programme;
  const path = join(tmpdir(), `dengung-bench-${kind}-${minutes}-${channels}-${sampleRate}-${format}.wav`);
  const frames = minutes * 60 * sampleRate;
  const { header, trailer } = wavFrame({ sampleRate, layout: layoutFor(channels), format, frames });
  const seconds = Array.from({ length: MADE }, (_, i) => second(programme, i));
  const size = header.length + seconds[0]!.length * minutes * 60 + trailer.length;
  if (existsSync(path) && statSync(path).size === size) return path;
  const file = openSync(path, 'w');
  writeSync(file, header);
  for (let i = 0; i < minutes * 60; i++) writeSync(file, seconds[(i * 7) % MADE]!);
  writeSync(file, trailer);
  closeSync(file);
  return path;
}

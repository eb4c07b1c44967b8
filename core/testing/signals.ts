import { layoutFor, type Layout } from '@/core/audio/layout';
import type { AudioReader } from '@/core/audio/reader';

/** Peak level of each channel in dBFS and how long, as in the tables of EBU Tech 3341 and 3342. */
export interface Tone {
  readonly seconds: number;
  /** One level for all channels, or one each; −Infinity is silence. */
  readonly dbfs: number | readonly number[];
}

/** A sine that goes on through changes of level. Channels of equal level share one array. */
export function tones(parts: readonly Tone[], sampleRate: number, channels = 2, hz = 1000): Float32Array[] {
  const made = new Map<string, Float32Array>();
  return Array.from({ length: channels }, (_, c) => {
    const levels = parts.map(({ dbfs }) => (typeof dbfs === 'number' ? dbfs : dbfs[c]!));
    const known = made.get(levels.join());
    const channel = known ?? oneTone(parts, levels, sampleRate, hz);
    made.set(levels.join(), channel);
    return channel;
  });
}

function oneTone(
  parts: readonly Tone[],
  levels: readonly number[],
  sampleRate: number,
  hz: number,
): Float32Array {
  const lengths = parts.map((part) => Math.round(part.seconds * sampleRate));
  const out = new Float32Array(lengths.reduce((sum, length) => sum + length, 0));
  const sine = periodOf(hz, sampleRate);
  let at = 0;
  lengths.forEach((length, index) => {
    const amplitude = 10 ** (levels[index]! / 20);
    const end = at + length;
    if (amplitude > 0) {
      const period = Float32Array.from(sine, (x) => amplitude * x);
      while (at < end) {
        const phase = at % period.length;
        const part = period.subarray(phase, phase + end - at);
        out.set(part, at);
        at += part.length;
      }
    }
    at = end;
  });
  return out;
}

/** A sine must be at least so long, as it is copied: samples. */
const LEAST_COPIED = 4_096;

/** A sine from its start to where it repeats on a sample, or several of that. @param hz a whole number, as is the rate */
function periodOf(hz: number, sampleRate: number): Float64Array {
  const common = (a: number, b: number): number => (b === 0 ? a : common(b, a % b));
  const length = sampleRate / common(sampleRate, hz);
  const sine = new Float64Array(length * Math.ceil(LEAST_COPIED / length));
  for (let i = 0; i < sine.length; i++) sine[i] = Math.sin((2 * Math.PI * hz * (i % length)) / sampleRate);
  return sine;
}

/** Deterministic noise, uniform in ±amplitude. */
export function noise(frames: number, amplitude: number, seed = 1): Float32Array {
  let state = seed >>> 0 || 1;
  const out = new Float32Array(frames);
  for (let i = 0; i < frames; i++) {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    out[i] = (state / 2147483648 - 1) * amplitude;
  }
  return out;
}

/** Sound in memory as a reader. */
export function memoryReader(
  channels: Float32Array[],
  sampleRate: number,
  layout: Layout = layoutFor(channels.length),
): AudioReader {
  const frames = channels[0]!.length;
  return {
    format: {
      container: 'memory',
      codec: 'float',
      bitDepth: 32,
      sampleRate,
      layout,
      frames,
      partial: false,
      integrity: [],
      metadata: null,
      warnings: [],
    },
    read: (start, count) =>
      Promise.resolve(
        channels.map((channel) => {
          const out = new Float32Array(count);
          const from = Math.max(0, start);
          const to = Math.min(frames, start + count);
          if (to > from) out.set(channel.subarray(from, to), from - start);
          return out;
        }),
      ),
  };
}

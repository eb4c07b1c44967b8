import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { decodePcm } from '@/core/audio/pcm';
import { longPeak } from '@/core/testing/longPeak';
import { noise, tones } from '@/core/testing/signals';
import { workplace } from './testing/workplace';

const { folder, write, dengung } = await workplace('limit');

/** Quiet for most of the time, with claps 20 dB over the rest. */
function clappy(seed: number): Float32Array {
  const hum = tones([{ dbfs: -28, seconds: 6 }], 48_000, 1)[0]!;
  const clap = noise(hum.length, 0.5, seed);
  return hum.map((x, i) => x + (i % 36_000 < 400 ? clap[i]! * Math.exp(-(i % 36_000) / 150) : 0));
}
write('claps.wav', [clappy(3), clappy(4)]);
write('calm.wav', tones([{ dbfs: -30, seconds: 4 }], 48_000));

interface Report {
  readonly gainDb: number;
  readonly limitedBy: string | null;
  readonly limiter?: { ceilingDbtp: number; maxReductionDb: number; workingSeconds: number };
  readonly predicted: { integratedLufs: number; truePeakDbtp: number };
  readonly after: { integratedLufs: number; truePeakDbtp: number };
  readonly notes: readonly string[];
}
const level = (...args: string[]): Report =>
  JSON.parse(dengung('level', '--target', 'ebu-r128', '--json', ...args).out) as Report;

/** The samples of a 24-bit stereo file that was written. */
function samplesOf(name: string): readonly Float32Array[] {
  const bytes = readFileSync(join(folder, name));
  const data = bytes.indexOf('data') + 8;
  const encoding = { kind: 'signed', bits: 24, bigEndian: false } as const;
  const frames = Math.floor((bytes.length - data) / 6);
  return decodePcm(new Uint8Array(bytes.subarray(data, data + frames * 6)), encoding, 2, frames).channels;
}

describe('level --limit', () => {
  it('reaches the loudness that gain alone cannot, under the ceiling by an independent measurement', () => {
    const alone = level('claps.wav');
    expect(alone.limitedBy).toBe('ceiling');
    expect(alone.limiter).toBeUndefined();
    const limited = level('--limit', '--out', 'limited.wav', 'claps.wav');
    expect(limited.gainDb).toBeGreaterThan(alone.gainDb + 1);
    expect(limited.after.integratedLufs).toBeCloseTo(-23, 1);
    expect(Math.abs(limited.after.integratedLufs + 23)).toBeLessThan(0.015);
    expect(limited.limitedBy).toBeNull();
    expect(limited.limiter!.ceilingDbtp).toBe(-1);
    expect(limited.limiter!.maxReductionDb).toBeGreaterThan(1);
    expect(limited.limiter!.workingSeconds).toBeGreaterThan(0.01);
    expect(limited.limiter!.workingSeconds).toBeLessThan(6);
    for (const x of samplesOf('limited.wav'))
      expect(20 * Math.log10(longPeak(x.subarray(0, 40_000), 0.9, 96))).toBeLessThan(-0.95);
    expect(limited.notes.join(' ')).toMatch(/The limiter takes up to .* dB off its peaks/);
    expect(limited.notes.join(' ')).toMatch(/Gain alone would stop at/);
  });

  it('has nothing to do where no peak comes near the ceiling', () => {
    const [plain, limited] = [
      level('--out', 'a.wav', 'calm.wav'),
      level('--limit', '--out', 'b.wav', 'calm.wav'),
    ];
    expect(limited.gainDb).toBeCloseTo(plain.gainDb, 2);
    expect(limited.limiter).toMatchObject({ maxReductionDb: 0, workingSeconds: 0 });
  });

  it('takes a preset, and says what is wrong with one', () => {
    const preset = { name: 'Hut', ceilingDbtp: -3, lookAheadMs: 5, releaseMs: 120 };
    const put = (name: string, value: unknown): void =>
      writeFileSync(join(folder, name), JSON.stringify(value));
    put('hut.json', { format: 'dengung-limiters-1', limiters: [preset] });
    const limited = level('--limit', '--limiter', 'hut.json', '--out', 'hut.wav', 'claps.wav');
    expect(limited.limiter!.ceilingDbtp).toBe(-3);
    expect(limited.after.truePeakDbtp).toBeLessThan(-2.95);
    put('odd.json', {
      format: 'dengung-limiters-1',
      limiters: [{ ...preset, releaseMs: 1e9 }],
    });
    const odd = dengung(
      ...['level', '--target', 'ebu-r128', '--limit', '--limiter', 'odd.json', 'claps.wav'],
    );
    expect(odd.code).toBe(1);
    expect(odd.err).toContain('Release is a number from 5 to 2000 ms');
    expect(dengung('level', '--target', 'ebu-r128', '--limiter', 'hut.json', 'claps.wav').code).toBe(2);
    const byPeak = ['--limit', '--by', 'truePeak', 'claps.wav'];
    expect(dengung('level', '--target', 'ebu-r128', ...byPeak).code).toBe(2);
  });

  it('levels many, each to the loudness, and says how hard each limiter works', () => {
    const args = ['--each', '--limit', '--out', 'many', '--json', 'claps.wav', 'calm.wav'];
    const { out, code } = dengung('level', '--target', 'ebu-r128', ...args);
    expect(code).toBe(0);
    const [claps, calm] = JSON.parse(out) as {
      measured: { integratedLufs: number; truePeakDbtp: number };
      limiter: { maxReductionDb: number } | null;
      sentence: string;
    }[];
    expect(claps!.measured.integratedLufs).toBeCloseTo(-23, 1);
    expect(claps!.measured.truePeakDbtp).toBeLessThan(-0.98);
    expect(claps!.limiter!.maxReductionDb).toBeGreaterThan(1);
    expect(claps!.sentence).toMatch(/The limiter takes up to/);
    expect(calm!.limiter).toBeNull();
    expect(calm!.measured.integratedLufs).toBeCloseTo(-23, 1);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layoutFor, programmeLayout } from '@/core/audio/layout';
import { programmeFrames, type Limiter, type Project } from '@/core/programme/model';
import { longPeak } from '@/core/testing/longPeak';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { noise } from '@/core/testing/signals';
import { renderRange } from '../mix';
import { pieceOf } from '../piece';
import { clipLimiter, programmeLimiter } from './station';
import { limit } from './limit';
import { limiterTiming } from './timing';
import { SPEECH_AND_MUSIC } from './presets';

const inDb = (value: number): number => 20 * Math.log10(value);
const usual: Limiter = SPEECH_AND_MUSIC;

/** A sound limited as a whole, with nothing around it, and by how much it went down, dB per block. */
function limited(x: readonly Float32Array[], ceilingDbtp: number, sampleRate: number, limiter = usual) {
  const timing = limiterTiming(limiter, sampleRate);
  const frames = x[0]!.length;
  const wide = x.map((channel) => {
    const room = new Float32Array(timing.before + frames + timing.after);
    room.set(channel, timing.before);
    return room;
  });
  const done = limit(wide, -timing.before, 10 ** (ceilingDbtp / 20), timing);
  const skip = done ? (timing.before - done.lead) / timing.block : 0;
  return {
    timing,
    y: wide.map((channel) => channel.slice(timing.before, timing.before + frames)),
    reduction: done ? done.reduction.slice(Math.floor(skip)) : new Float64Array(),
    worked: done !== null,
  };
}

/** Hums and hisses, as speech does: bursts of harmonics and of noise. */
const speechLike = (rate: number) => (i: number, hiss: number) => {
  const t = i / rate;
  const burst = Math.cos(2 * Math.PI * 4 * t) ** 2;
  const voice = [1, 2, 3, 5, 8].reduce((sum, h) => sum + Math.sin(2 * Math.PI * 118 * h * t + h * h) / h, 0);
  return burst * (1.6 * voice) + (1 - burst) * 0.4 * hiss;
};

const SIGNALS: Readonly<Record<string, (rate: number) => (i: number, noise: number) => number>> = {
  'white noise': () => (_, hiss) => 1.4 * hiss,
  'random signs': () => (_, hiss) => (hiss > 0 ? 1 : -1),
  'a square wave': (rate) => (i) => (Math.sin((2 * Math.PI * 997 * i) / rate) > 0 ? 1 : -1),
  'single samples at full scale': () => (i) => (i % 397 === 200 ? 1 : 0),
  'a sine at a quarter of the rate, at 45°': () => (i) =>
    Math.SQRT2 * Math.sin((Math.PI / 2) * i + Math.PI / 4),
  'speech-like sound': speechLike,
  'chords with drums': (rate) => (i, hiss) => {
    const t = i / rate;
    const chord = [220, 277.2, 329.6, 440, 2637].reduce(
      (sum, hz, h) => sum + 0.4 * Math.sin(2 * Math.PI * hz * t + h),
      0,
    );
    return chord + 1.2 * hiss * Math.exp(-((i % 500) / 40));
  },
};

describe('the limiter', () => {
  it.each(Object.keys(SIGNALS))('keeps %s under its ceiling, at every rate and at both ends', (name) => {
    for (const rate of [44_100, 48_000, 96_000, 192_000]) {
      const hiss = noise(1_400, 1, rate % 97);
      const make = SIGNALS[name]!(rate);
      const x = Float32Array.from({ length: 1_400 }, (_, i) => make(i, hiss[i]!));
      const { y, worked } = limited([x], -1, rate);
      expect(worked).toBe(true);
      const over = inDb(longPeak(y[0]!, 0.9)) + 1;
      expect(over).toBeLessThan(0.05);
      // Nor is it turned down more than it takes: what the standard reads too much aside.
      expect(over).toBeGreaterThan(-0.5);
    }
  });

  it('keeps it with any settings', () => {
    fc.assert(
      fc.property(
        fc.record({
          lookAheadMs: fc.double({ min: 0.5, max: 10, noNaN: true }),
          releaseMs: fc.oneof(fc.constant(null), fc.double({ min: 5, max: 600, noNaN: true })),
          seed: fc.nat(500),
          loud: fc.double({ min: 0.5, max: 4, noNaN: true }),
        }),
        ({ seed, loud, ...times }) => {
          const x = noise(700, loud, seed + 1);
          const { y } = limited([x], -3, 48_000, { ...usual, ...times });
          expect(inDb(longPeak(y[0]!, 0.7)) + 3).toBeLessThan(0.05);
        },
      ),
      { numRuns: 15 },
    );
  });

  it('changes no bit where it has nothing to do, whatever notes a piece carries', () => {
    const x = [noise(60_000, 0.3, 1), noise(60_000, 0.3, 2)];
    const { y, worked } = limited(x, -1, 48_000);
    expect(worked).toBe(false);
    expect(y).toEqual(x);
    const project = { ...testProject([]), limiter: { ...usual, ceilingDbtp: 0 } };
    const { before, after } = programmeLimiter.reach(project);
    const piece = { ...pieceOf(x.map((c) => c.subarray(0, before + 100 + after))), gainDb: -2 };
    const out = programmeLimiter.apply(piece, project, 0);
    expect(out).toMatchObject({ frames: 100, gainDb: -2 });
    (out.sound as Float32Array[]).forEach((c, i) => expect(c).toEqual(x[i]!.slice(before, before + 100)));
  });

  const SINES = [
    [1_000, -70],
    [50, -50],
    [20, -50],
  ] as const;
  it.each(SINES)('leaves a steady sine of %i Hz, 6 dB over, a sine: harmonics under %i dB', (hz, least) => {
    const x = Float32Array.from({ length: 96_000 }, (_, i) => 2 * Math.sin((2 * Math.PI * hz * i) / 48_000));
    const y = limited([x], 0, 48_000).y[0]!;
    const level = (frequency: number): number => {
      let [re, im] = [0, 0];
      for (let i = 48_000; i < 96_000; i++) {
        re += y[i]! * Math.cos((2 * Math.PI * frequency * i) / 48_000);
        im += y[i]! * Math.sin((2 * Math.PI * frequency * i) / 48_000);
      }
      return inDb(Math.hypot(re, im) / 24_000 + 1e-12);
    };
    expect(level(hz)).toBeCloseTo(0, 1);
    for (let h = 2; h <= 12; h++) expect(level(h * hz) - level(hz)).toBeLessThan(least);
  });

  it('never moves faster than it is set to', () => {
    fc.assert(
      fc.property(
        fc.nat(1_000),
        fc.double({ min: 1, max: 8, noNaN: true }),
        fc.double({ min: 20, max: 300, noNaN: true }),
        (seed, lookAheadMs, releaseMs) => {
          const bursts = noise(24_000, 1, seed + 1).map((v, i) => (i % 6_000 < 700 ? 3 * v : 0.2 * v));
          const { reduction, timing } = limited([bursts], -1, 48_000, { ...usual, lookAheadMs, releaseMs });
          const deepest = reduction.reduce((a, b) => Math.max(a, b), 0);
          const perBlock = (ms: number): number => 1 / Math.max(1, (ms * 48) / timing.block - 0.5);
          for (let k = 1; k < reduction.length; k++) {
            const change = reduction[k]! - reduction[k - 1]!;
            // A window without corners is steepest in its middle: twice its mean. What is made good at the end comes on top.
            expect(change).toBeLessThan(deepest * 2 * perBlock(lookAheadMs) + 0.3);
            expect(-change).toBeLessThan(deepest * perBlock(releaseMs) + 0.3);
          }
        },
      ),
      { numRuns: 12 },
    );
  });

  it('comes back slower the longer it has been at work, when it sets its release itself', () => {
    const burst = (frames: number) =>
      noise(96_000, 1, 3).map((v, i) => (i >= 20_000 - frames && i < 20_000 ? 3 * v : 0.1 * v));
    const left = (frames: number): number => {
      const { reduction, timing } = limited([burst(frames)], -1, 48_000);
      return reduction[Math.round(30_000 / timing.block)]!;
    };
    expect(left(200)).toBeLessThan(0.5);
    expect(left(15_000)).toBeGreaterThan(3);
  });

  it('moves all channels by the same gain, the LFE on its own where that is wanted', () => {
    const surround = programmeLayout('5.1');
    const loud = surround.labels.map((_, c) => noise(4_000, c === 0 ? 2 : 0.3, c + 1));
    const reach = (project: Project) => programmeLimiter.reach(project);
    const run = (lfeApart: boolean): Float32Array[] => {
      const limiter = { ...usual, lfeApart };
      const project: Project = { ...testProject([]), layoutId: '5.1', limiter };
      const { before, after } = reach(project);
      const wide = loud.map((c) => {
        const room = new Float32Array(before + 4_000 + after);
        room.set(c, before);
        return room;
      });
      return programmeLimiter.apply(pieceOf(wide), project, -before).sound as Float32Array[];
    };
    const gain = (y: Float32Array[], c: number): number => y[c]![2_000]! / loud[c]![2_000]!;
    const linked = run(false);
    for (let c = 1; c < 6; c++) expect(gain(linked, c)).toBeCloseTo(gain(linked, 0), 5);
    expect(gain(linked, 0)).toBeLessThan(0.8);
    const apart = run(true);
    expect(gain(apart, surround.labels.indexOf('LFE'))).toBe(1);
    expect(gain(apart, 1)).toBeCloseTo(gain(apart, 0), 5);
    expect(layoutFor(6).labels).toEqual(surround.labels);
  });
});

describe('rendered through limiters', () => {
  it('any range fits its neighbours, and comes out under the ceiling', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.nat(1_000_000), async (clips, where) => {
        const loud = clips.map((clip) => ({ ...clip, limiter: { ...usual, ceilingDbtp: -6, inputDb: 9 } }));
        const base = testProject(loud);
        const tracks = base.tracks.map((track) => ({ ...track, gainDb: 6, limiter: usual }));
        const limiter = { ...usual, ceilingDbtp: -2, inputDb: 3 };
        const project: Project = { ...base, tracks, limiter };
        const frames = programmeFrames(project);
        const cut = where % frames;
        const count = Math.min(9_000, frames - cut);
        const [whole, part] = await Promise.all([
          renderRange(project, openTestSource, 0, frames),
          renderRange(project, openTestSource, cut, count),
        ]);
        whole.forEach((channel, c) =>
          part[c]!.forEach((x, i) => {
            if (Math.abs(x - channel[cut + i]!) > 1e-6) expect(x).toBe(channel[cut + i]);
          }),
        );
        for (const channel of part) expect(Math.max(...channel.map(Math.abs))).toBeLessThan(10 ** (-2 / 20));
      }),
      { numRuns: 4 },
    );
  });

  it('bypassed is as if it were not there', async () => {
    const clip = testClip({ id: 'a', gain: { db: 20, lastChangeDb: 20, reason: { kind: 'byHand' } } });
    const bypassed = { ...usual, bypassed: true };
    const plain = testProject([clip]);
    const with_ = { ...testProject([{ ...clip, limiter: bypassed }]), limiter: bypassed };
    expect(clipLimiter.key({ clip: with_.clips[0]! } as never)).toEqual([]);
    const [a, b] = await Promise.all([plain, with_].map((p) => renderRange(p, openTestSource, 0, 5_000)));
    expect(b).toEqual(a);
  });
});

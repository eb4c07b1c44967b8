import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SURROUND_5_1 } from '@/core/audio/layout';
import { cleanSound, materialOf, PLANTED_RATE as RATE } from '@/core/testing/planted';
import { EBU_R128 } from '../shipped';
import type { Target } from '../target';
import { verdictOf } from '../verdict';
import { findingsOf, judgedOf } from './findAll';
import type { Finding, FindingKind } from './finding';
import type { CheckMaterial } from './material';
import { speechDistances } from './speech';
import { USUAL_THRESHOLDS, type Thresholds } from './thresholds';

/** Whatever the loudness: only what is planted is asked about. */
const LENIENT: Target = { ...EBU_R128, integratedLufs: -30, toleranceLu: 30, maxTruePeakDbtp: 3 };

const found = (
  material: CheckMaterial,
  target: Target = LENIENT,
  thresholds: Partial<Thresholds> = {},
): Finding[] => findingsOf(material, judgedOf(material), target, { ...USUAL_THRESHOLDS, ...thresholds });

const kinds = (findings: readonly Finding[]): FindingKind[] => findings.map(({ kind }) => kind);

/** One of a kind, at a place to a tenth of a second. */
function expectOne(findings: readonly Finding[], kind: FindingKind, from: number, to: number): Finding {
  expect(kinds(findings)).toEqual([kind]);
  const [one] = findings;
  expect(Math.abs(one!.from - from)).toBeLessThanOrEqual(0.101);
  expect(Math.abs(one!.to - to)).toBeLessThanOrEqual(0.101);
  return one!;
}

const SECONDS = 20;
const seeds = fc.integer({ min: 1, max: 10_000 });
/** A place well within the sound, seconds, in whole milliseconds. */
const places = fc.integer({ min: 5_000, max: 12_000 }).map((ms) => ms / 1000);
const clean = (seed: number, channels = 2): Float32Array[] => cleanSound(SECONDS, channels, 0.05, seed);
const change = (samples: Float32Array, from: number, to: number, of: (x: number, i: number) => number) => {
  for (let i = Math.round(from * RATE); i < Math.min(samples.length, Math.round(to * RATE)); i++)
    samples[i] = of(samples[i]!, i);
};

describe('in clean sound', () => {
  it('nothing is found', async () => {
    await fc.assert(
      fc.asyncProperty(seeds, fc.integer({ min: 1, max: 2 }), async (seed, channels) => {
        expect(found(await materialOf(clean(seed, channels)))).toEqual([]);
      }),
      { numRuns: 12 },
    );
  });
});

describe('a planted fault is found at its place, and nothing else', () => {
  const each = (test: (seed: number, at: number) => Promise<void>) =>
    fc.assert(fc.asyncProperty(seeds, places, test), { numRuns: 5 });

  it('a peak over the ceiling', () =>
    each(async (seed, at) => {
      const samples = clean(seed);
      change(samples[0]!, at, at + 0.05, (x) => x * 6);
      const found3 = found(await materialOf(samples), { ...LENIENT, maxTruePeakDbtp: -6 });
      const one = found3.find(({ kind }) => kind === 'truePeak')!;
      expect(one.weight).toBe('breaks');
      expect(one.from).toBeGreaterThan(at - 0.101);
      expect(one.to).toBeLessThan(at + 0.05 + 0.201);
    }));

  it('loudness over a limit for a while, and only where it is over it', () =>
    each(async (seed, at) => {
      const samples = clean(seed);
      for (const channel of samples) change(channel, at, at + 3, (x) => x * 2);
      const material = await materialOf(samples);
      const { maxShortTermLufs: most } = material.figures;
      // Windows that miss a tenth of a second of it are still over.
      const [one, ...others] = found(material, { ...LENIENT, maxShortTermLufs: most! - 0.05 });
      expect([one!.kind, others]).toEqual(['shortTerm', []]);
      expect(Math.abs(one!.from - at)).toBeLessThan(0.5);
      expect(Math.abs(one!.to - at - 3)).toBeLessThan(0.5);
      expect(one!.value).toBeCloseTo(most!, 1);
      expect(found(material, { ...LENIENT, maxShortTermLufs: most! + 0.1 })).toEqual([]);
    }));

  it('samples at full scale', () =>
    each(async (seed, at) => {
      const samples = clean(seed);
      const frame = Math.round(at * RATE);
      samples[1]!.fill(1, frame, frame + 9);
      const one = found(await materialOf(samples)).find(({ kind }) => kind === 'clipped')!;
      expect([one.value, Math.round(one.from * RATE)]).toEqual([9, frame]);
      samples[1]!.fill(0.9, frame, frame + 9);
      expect(kinds(found(await materialOf(samples)))).not.toContain('clipped');
    }));

  it('silence, a hole, silence at head and tail', () =>
    each(async (seed, at) => {
      const soft = (channel: Float32Array, from: number, to: number): void => {
        change(channel, from, to, () => 0);
        for (const [edge, way] of [
          [from, -1],
          [to, 1],
        ] as const)
          for (let i = 0; i < 800; i++) channel[Math.round(edge * RATE) + way * i]! *= i / 800;
      };
      const long = clean(seed);
      for (const channel of long) soft(channel, at, at + 2.5);
      expectOne(found(await materialOf(long)), 'silence', at, at + 2.5);
      expect(found(await materialOf(long), LENIENT, { silenceSeconds: 3 })).toEqual([]);
      const hole = clean(seed);
      change(hole[0]!, at, at + 0.03, () => 0);
      expect(kinds(found(await materialOf(hole)))).toContain('dropout');
      const edges = clean(seed);
      for (const channel of edges) {
        change(channel, 0, 3.5, () => 0);
        change(channel, 16, SECONDS, () => 0);
      }
      const [head, tail] = found(await materialOf(edges)).filter(({ kind }) => kind !== 'click');
      expect([head!.kind, tail!.kind]).toEqual(['head', 'tail']);
      expect(head!.to).toBeCloseTo(3.5, 1);
      expect(tail!.from).toBeCloseTo(16, 1);
    }));

  it('a click', () =>
    each(async (seed, at) => {
      const samples = clean(seed);
      samples[0]![Math.round(at * RATE)]! += 0.8;
      expectOne(found(await materialOf(samples)), 'click', at, at);
    }));

  it('an offset', () =>
    each(async (seed, at) => {
      const samples = clean(seed);
      const window = (i: number): number => {
        const t = i / RATE - at;
        return Math.min(1, t / 0.05, (6 - t) / 0.05);
      };
      change(samples[1]!, at, at + 6, (x, i) => x + 0.03 * window(i));
      const one = expectOne(found(await materialOf(samples)), 'dc', at, at + 6);
      expect(one.value).toBeCloseTo(20 * Math.log10(0.03), 0);
      change(samples[1]!, at, at + 6, (x, i) => x - 0.029 * window(i));
      expect(found(await materialOf(samples))).toEqual([]);
    }));

  it('sides against each other, and a side that is missing', () =>
    each(async (seed, at) => {
      const samples = clean(seed);
      change(samples[1]!, at, at + 4, (x) => -x);
      const one = found(await materialOf(samples)).find(({ kind }) => kind === 'phase')!;
      expect(one.value).toBeCloseTo(-0.67, 1);
      expect([one.from - at, one.to - at - 4].every((off) => Math.abs(off) <= 0.101)).toBe(true);
      const quiet = clean(seed);
      change(quiet[0]!, at, at + 4, (x) => x / 50);
      expectOne(
        found(await materialOf(quiet)).filter(({ kind }) => kind !== 'click'),
        'channel',
        at,
        at + 4,
      );
      const nearly = clean(seed);
      change(nearly[0]!, at, at + 4, (x) => x / 20);
      expect(found(await materialOf(nearly))).toEqual([]);
    }));

  it('a jump of level', () =>
    each(async (seed, at) => {
      const samples = clean(seed);
      for (const channel of samples) change(channel, at, SECONDS, (x) => x * 4);
      const [one] = found(await materialOf(samples)).filter(({ kind }) => kind === 'jump');
      expect(Math.abs(one!.from - at)).toBeLessThanOrEqual(0.101);
      expect(Math.abs(one!.value! - 12.04)).toBeLessThan(2);
      const nearly = clean(seed);
      for (const channel of nearly) change(channel, at, SECONDS, (x) => x * 2);
      expect(kinds(found(await materialOf(nearly)))).not.toContain('jump');
    }));
});

/** Bursts like syllables, with pauses between them, each of its own level. */
function syllables(seed: number, seconds: number): Float32Array {
  const [x] = cleanSound(seconds, 1, 0.2, seed);
  let [at, k] = [0, seed];
  while (at < x!.length) {
    k = (k * 7_919 + 13) % 1_009;
    const [sounds, pause] = [(0.3 + (k % 9) / 10) * RATE, (0.2 + (k % 5) / 10) * RATE];
    const level = 10 ** (((k % 7) - 3) / 40);
    for (let i = Math.floor(at); i < Math.min(x!.length, at + sounds + pause); i++)
      x![i] = x![i]! * (i < at + sounds ? level : 0.003);
    at += sounds + pause;
  }
  return x!;
}

describe('speech', () => {
  const jumpsIn = async (x: Float32Array) =>
    found(await materialOf([x])).flatMap(({ kind, from, value }) =>
      kind === 'jump' ? [{ from, value }] : [],
    );

  it('has no jump at its pauses, and one where its level jumps in the middle', () =>
    fc.assert(
      fc.asyncProperty(seeds, fc.integer({ min: 6, max: 14 }), async (seed, at) => {
        const x = syllables(seed, SECONDS);
        expect(await jumpsIn(x)).toEqual([]);
        change(x, at, SECONDS, (one) => one * 10 ** (12 / 20));
        const [one, ...more] = await jumpsIn(x);
        expect(more).toEqual([]);
        expect(Math.abs(one!.from - at)).toBeLessThan(1.5);
        expect(Math.abs(one!.value! - 12)).toBeLessThan(4);
      }),
      { numRuns: 8 },
    ));
});

describe('music', () => {
  /** A low note that swells and fades, twenty times. */
  const notes = (): Float32Array =>
    Float32Array.from({ length: 40 * RATE }, (_, i) => {
      const t = (i / RATE) % 2;
      return 0.5 * Math.exp(-2 * t) * Math.sin(2 * Math.PI * 1.3 * t) ** 2 * Math.sin(2 * Math.PI * 31 * t);
    });

  it('of low notes has no offset', async () => {
    const x = notes().map((v, i) => v + 0.05 * Math.sin((2 * Math.PI * 0.11 * i) / RATE));
    expect(kinds(found(await materialOf([x])))).not.toContain('dc');
    const off = notes().map((v) => v + 0.02);
    expect(kinds(found(await materialOf([off]))).filter((kind) => kind === 'dc')).toEqual(['dc']);
  });

  it('that is plucked is one finding, few clicks are one each', async () => {
    const [x] = cleanSound(40, 1, 0.05, 4);
    for (let n = 0; n < 30; n++) x![(3 + n) * RATE]! += 0.8;
    const clicks = found(await materialOf([x!])).filter(({ kind }) => kind === 'click');
    expect(clicks.map(({ from, to }) => [Math.round(from), Math.round(to)])).toEqual([[3, 32]]);
    expect(clicks[0]!.sentence).toMatch(/^30 clicks in a row, the loudest /);
    const [few] = cleanSound(40, 1, 0.05, 4);
    for (const at of [3, 12, 30]) few![at * RATE]! += 0.8;
    expect(kinds(found(await materialOf([few!])))).toEqual(['click', 'click', 'click']);
  });
});

describe('what is told of the whole', () => {
  it('loudness, range, length and form that the target does not allow', async () => {
    const samples = clean(3);
    for (const channel of samples) change(channel, 10, SECONDS, (x) => x / 3);
    const material = await materialOf(samples);
    const strict: Target = {
      ...EBU_R128,
      ...{ maxLoudnessRangeLu: 4, sampleRates: [48_000], layouts: ['5.1'], maxSeconds: 10 },
    };
    const all = found(material, strict);
    expect(all.filter(({ weight }) => weight === 'breaks').map(({ kind, whole }) => [kind, whole])).toEqual([
      ['integrated', true],
      ['range', true],
      ['format', true],
      ['format', true],
      ['format', true],
    ]);
    expect(verdictOf(judgedOf(material), strict).meets).toBe(false);
    expect(
      found(material, { ...strict, minLoudnessRangeLu: 60 }).filter(({ kind }) => kind === 'range'),
    ).toHaveLength(2);
  });

  it('the same in two channels: it breaks a target that asks for stereo, and is worth a look elsewhere', async () => {
    const [left] = clean(5);
    const material = await materialOf([left!, Float32Array.from(left!)]);
    expect(kinds(found(material, { ...LENIENT, layouts: ['stereo'] }))).toEqual(['mono']);
    expect(found(material)).toMatchObject([{ kind: 'mono', weight: 'look' }]);
    expect(found(await materialOf(clean(5)), { ...LENIENT, layouts: ['stereo'] })).toEqual([]);
  });

  it('a channel with nothing on it, and centre and LFE the wrong way round', async () => {
    const six = clean(8, 6);
    const bass = (channel: Float32Array) =>
      channel.map((_, i) => 0.1 * Math.sin((2 * Math.PI * 60 * i) / RATE));
    const right = six.map((channel, c) => (c === 3 ? bass(channel) : channel));
    expect(found(await materialOf(right, SURROUND_5_1))).toEqual([]);
    const swapped = six.map((channel, c) => (c === 2 ? bass(channel) : channel));
    const [one] = found(await materialOf(swapped, SURROUND_5_1));
    expect([one!.kind, one!.sentence.includes('swapped')]).toEqual(['channel', true]);
    const silent = right.map((channel, c) => (c === 4 ? new Float32Array(channel.length) : channel));
    expect(kinds(found(await materialOf(silent, SURROUND_5_1)))).toEqual(['channel']);
  });

  it('a level that drifts, and not one that only goes up and down', async () => {
    const long = cleanSound(300, 1, 0.05, 4);
    const drifting = long.map((x) => x.map((v, i) => v * 10 ** ((-6 * i) / x.length / 20)));
    const one = found(await materialOf(drifting)).find(({ kind }) => kind === 'drift')!;
    expect(one.value).toBeCloseTo(-5.4, 0);
    const waving = long.map((x) =>
      x.map((v, i) => v * 10 ** ((3 * Math.sin((8 * Math.PI * i) / x.length)) / 20)),
    );
    expect(found(await materialOf(waving))).toEqual([]);
  });

  it('silence throughout', async () => {
    expect(kinds(found(await materialOf([new Float32Array(RATE * 4)]), LENIENT))).toEqual(['silence']);
  });
});

describe('dialogue and the rest', () => {
  const energies = (levels: readonly number[]): Float64Array =>
    Float64Array.from(levels.flatMap((level) => Array.from({ length: 50 }, () => level)));

  it('are apart by what their energies say, second by second', () => {
    // Ten seconds of speech at 1; the rest at a hundredth of its power, then at half of it.
    const speech = energies([0, 0, ...Array.from({ length: 10 }, () => 1), 0, 0]);
    const rest = energies([
      ...Array.from({ length: 7 }, () => 0.01),
      ...Array.from({ length: 7 }, () => 0.5),
    ]);
    const distances = speechDistances({ speech, rest }, [{ from: 2, to: 12 }]);
    expect(distances[10]).toBeNull();
    expect(distances[30]).toBeCloseTo(20, 6);
    expect(distances[110]).toBeCloseTo(10 * Math.log10(2), 6);
    expect(distances[130]).toBeNull();
  });

  it('a place where the rest comes too close is found, one that stays clear is not', async () => {
    const material = await materialOf(clean(11), undefined, [{ from: 2, to: 12 }]);
    const speech = energies([
      0,
      0,
      ...Array.from({ length: 10 }, () => 1),
      ...Array.from({ length: 8 }, () => 0),
    ]);
    const close = energies([
      ...Array.from({ length: 7 }, () => 0.01),
      ...Array.from({ length: 13 }, () => 0.9),
    ]);
    const [one] = found({ ...material, apart: { speech, rest: close } });
    expect(one!.kind).toBe('dialogue');
    expect(one!.value).toBeCloseTo(10 * Math.log10(1 / 0.9), 6);
    expect(one!.from).toBeGreaterThan(5.4);
    expect(one!.from).toBeLessThan(8.6);
    expect(one!.to).toBeCloseTo(12, 1);
    const clear = energies(Array.from({ length: 20 }, () => 0.1));
    expect(found({ ...material, apart: { speech, rest: clear } })).toEqual([]);
  });
});

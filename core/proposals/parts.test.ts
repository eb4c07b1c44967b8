import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { AudioReader } from '@/core/audio/reader';
import { changeSections } from '@/core/programme/edits/sections';
import { clipSound } from '@/core/signal/clipSound';
import { measureClip, type ClipMeasurement } from '@/core/measuring/measureClip';
import { testClip, testProject } from '@/core/testing/projects';
import { memoryReader, noise } from '@/core/testing/signals';
import type { Clip, Project } from '@/core/programme/model';
import { proposeParts, standingOut } from './findParts';
import { measuredClip, type MeasuredClip } from './proposal';
import { restLufs, sectionLevel, sectionRow } from './sectionLevels';

const RATE = 48_000;
const SECONDS = 14;

/** Noise with a pause of 0.4 s every 2 s, and a part of it louder or quieter. */
function talk(part: { from: number; to: number; db: number } | null, pauses = true): AudioReader {
  const samples = noise(SECONDS * RATE, 0.1, 7);
  for (let i = 0; i < samples.length; i++) {
    const t = i / RATE;
    if (pauses && t % 2 > 1.6) samples[i]! *= 0.002;
    if (part && t >= part.from && t < part.to) samples[i]! *= 10 ** (part.db / 20);
  }
  return memoryReader([samples], RATE);
}

async function measured(
  reader: AudioReader,
  project: Project,
): Promise<MeasuredClip & { measurement: ClipMeasurement }> {
  const [clip] = project.clips;
  const measurement = (await measureClip(reader, clipSound(project, clip!)!, () => true))!;
  return { ...measuredClip(clip!, measurement), measurement };
}

const project = (change: Partial<Clip> = {}): Project =>
  testProject([testClip({ id: 'a', length: SECONDS * RATE, ...change })]);

const withGain = (db: number): Partial<Clip> => ({
  gain: { db, lastChangeDb: db, reason: { kind: 'byHand' } },
});

describe('parts that stand out', () => {
  it('are found where they are, and levelled to the rest they stand out no more', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 12, max: 80 }),
        fc.integer({ min: 20, max: 40 }),
        fc.integer({ min: 9, max: 18 }),
        fc.boolean(),
        fc.integer({ min: -10, max: 10 }),
        async (tenths, long, distance, louder, gainDb) => {
          const part = { from: tenths / 10, to: (tenths + long) / 10, db: louder ? distance : -distance };
          const reader = talk(part);
          const before = project(withGain(gainDb));
          const [row, ...others] = proposeParts(await measured(reader, before), { ceilingDbtp: 30 });
          expect(others).toEqual([]);
          // A pause weighs more in a short part than in the rest.
          expect(Math.abs(row!.overLu! - part.db)).toBeLessThan(2.5);
          // A pause at its edge may be on either side of it.
          expect(Math.abs(row!.range.from - part.from)).toBeLessThan(0.55);
          expect(Math.abs(row!.range.to - part.to)).toBeLessThan(0.55);
          const range = { from: row!.range.from * RATE, to: row!.range.to * RATE };
          const after = changeSections(before, range, () => ({ kind: 'change', db: row!.changeDb }));
          const again = await measured(reader, after);
          const level = sectionLevel(again, row!.range);
          expect(Math.abs(level.lufs! - level.restLufs!)).toBeLessThan(0.1);
          expect(Math.abs(level.lufs! - row!.afterLufs!)).toBeLessThan(0.02);
        },
      ),
      { numRuns: 12 },
    );
  });

  it('are none in a clip that is even, silent or empty', async () => {
    expect(standingOut((await measured(talk(null), project())).measurement)).toEqual([]);
    expect(standingOut((await measured(talk(null, false), project())).measurement)).toEqual([]);
    const silent = memoryReader([new Float32Array(SECONDS * RATE)], RATE);
    expect(standingOut((await measured(silent, project())).measurement)).toEqual([]);
    const short = await measured(talk(null), project({ length: 3_000 }));
    expect(proposeParts(short, { ceilingDbtp: -1 })).toEqual([]);
    expect(proposeParts(measuredClip(project().clips[0]!, null), { ceilingDbtp: -1 })).toEqual([]);
  });

  it('count only from the distance asked for', async () => {
    const entry = await measured(talk({ from: 4, to: 6, db: 7 }), project());
    expect(proposeParts(entry, { ceilingDbtp: -1 }, { distance: 6 })).toHaveLength(1);
    expect(proposeParts(entry, { ceilingDbtp: -1 }, { distance: 9 })).toEqual([]);
  });

  it('say where, how far and what is done', async () => {
    const entry = await measured(talk({ from: 8.2, to: 9.2, db: 11 }), project());
    const [row] = proposeParts(entry, { ceilingDbtp: -1 });
    expect(row!.sentence).toMatch(
      /^From 0:0[78]\.\d to 0:09\.\d it is 1[01]\.\d LU over the rest: −1[01]\.\d dB brings it there\.$/,
    );
  });
});

describe('a part of a clip', () => {
  it('is read apart from the rest, both with the clip’s gain', async () => {
    const entry = await measured(talk({ from: 4, to: 9, db: 10 }, false), project(withGain(-3)));
    const whole = await measured(talk(null, false), project(withGain(-3)));
    const usual = whole.measurement.figures.integratedLufs! - 3;
    const level = sectionLevel(entry, { from: 4, to: 9 });
    expect(level.lufs).toBeCloseTo(usual + 10, 1);
    expect(level.restLufs).toBeCloseTo(usual, 1);
    expect(restLufs(entry, [{ from: 0, to: SECONDS }])).toBeNull();
  });

  it('is brought to a level exactly', async () => {
    const reader = talk(null, false);
    const before = project();
    const range = { from: 3, to: 6.5 };
    const row = sectionRow(await measured(reader, before), range, { goal: -30, ceilingDbtp: -1 });
    const frames = { from: range.from * RATE, to: range.to * RATE };
    const after = changeSections(before, frames, () => ({ kind: 'change', db: row.changeDb }));
    expect(sectionLevel(await measured(reader, after), range).lufs).toBeCloseTo(-30, 2);
    expect(row.sentence).toContain('brings it to −30.0 LUFS');
  });

  it('is brought to a level exactly with long ramps too: what lies in them does not count', async () => {
    const reader = talk({ from: 3, to: 6.5, db: 9 }, false);
    const before = project();
    const range = { from: 3, to: 6.5 };
    const request = { goal: -40, ceilingDbtp: -1, ramp: 0.7 };
    const row = sectionRow(await measured(reader, before), range, request);
    const frames = { from: range.from * RATE, to: range.to * RATE };
    const after = changeSections(before, frames, () => ({ kind: 'change', db: row.changeDb }), 0.7 * RATE);
    const level = sectionLevel(await measured(reader, after), range, null, 0.7);
    expect(level.lufs).toBeCloseTo(-40, 2);
  });

  it('stops at the ceiling when it is raised, and never does when it is lowered', async () => {
    const entry = await measured(talk(null, false), project());
    const range = { from: 3, to: 6 };
    const up = sectionRow(entry, range, { goal: -5, ceilingDbtp: -12 });
    expect(up.limitedBy).toBe('ceiling');
    expect(up.truePeakDbtp! + up.changeDb).toBeCloseTo(-12, 9);
    expect(up.sentence).toContain('its peak reaches −12.0 dBTP first');
    const hot = sectionRow(entry, range, { goal: -60, ceilingDbtp: -40 });
    expect(hot.limitedBy).toBeNull();
    expect(hot.afterLufs).toBeCloseTo(-60, 6);
    const over = sectionRow(entry, range, { goal: -5, ceilingDbtp: -40 });
    expect(over.changeDb).toBe(0);
  });

  it('that is too short for a block goes by the loudest that touches it, and says so', async () => {
    const entry = await measured(talk({ from: 5, to: 5.15, db: 20 }, false), project());
    const row = sectionRow(entry, { from: 5, to: 5.15 }, { goal: 'rest', ceilingDbtp: -1 });
    expect(row.short).toBe(true);
    expect(row.overLu).toBeGreaterThan(10);
    expect(row.sentence).toContain('by its loudest 400 ms');
  });

  it('is skipped, with the reason, where there is nothing to go by', async () => {
    const entry = await measured(talk(null, false), project());
    const request = { goal: 'rest', ceilingDbtp: -1 } as const;
    expect(sectionRow(entry, { from: 0, to: SECONDS }, request).skipped).toBe('noRest');
    const silent = await measured(memoryReader([new Float32Array(SECONDS * RATE)], RATE), project());
    expect(sectionRow(silent, { from: 1, to: 2 }, request).skipped).toBe('silent');
    const waiting = measuredClip(project().clips[0]!, null);
    expect(sectionRow(waiting, { from: 1, to: 2 }, request)).toMatchObject({
      skipped: 'notMeasured',
      changeDb: 0,
    });
  });
});

import { describe, expect, it } from 'vitest';
import { noiseFloor } from '@/core/loudness/details';
import { clipSound } from '@/core/signal/clipSound';
import { measureClip, withBaseGain } from '@/core/measuring/measureClip';
import type { GainReason } from '@/core/programme/model';
import { EBU_R128 } from '@/core/check/shipped';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { ledgerRow } from './ledger';
import { measuredClip, type MeasuredClip } from './proposal';
import { propose } from './propose';

async function measured(db: number, reason: GainReason, length = 96_000): Promise<MeasuredClip> {
  const clip = testClip({ id: 'a', sourceId: 's1', length, gain: { db, lastChangeDb: 0, reason } });
  const source = testProject().sources[1]!;
  const sound = clipSound(testProject(), clip)!;
  return measuredClip(clip, await measureClip(await openTestSource(source), sound, () => true), {
    key: 'now',
  });
}

const PLAIN: GainReason = { kind: 'asRecorded' };
const levelled = (change: object = {}): GainReason => ({
  kind: 'levelled',
  measure: 'integrated',
  mode: 'each',
  goal: -23,
  stoppedByCeiling: false,
  ...change,
});

describe('the ledger', () => {
  it('says of each clip what is measured of it, with its gain', async () => {
    const entry = await measured(-7.5, PLAIN);
    const { figures, blocks, truePeaks } = entry.measurement!;
    const row = ledgerRow(entry, EBU_R128);
    expect(row.recordedLufs).toBe(figures.integratedLufs);
    expect(row.level.lufs).toBeCloseTo(figures.integratedLufs! - 7.5, 6);
    expect(row.level.relative).toBeCloseTo(row.level.lufs! + 23, 9);
    expect(row.headroomDb).toBeCloseTo(-1 - (figures.truePeakDbtp! - 7.5), 9);
    expect(row.plrLu).toBeCloseTo(figures.truePeakDbtp! - figures.integratedLufs!, 6);
    expect(truePeaks[Math.round(row.peakAt! * 10)]).toBe(Math.max(...truePeaks));
    // Without pauses it has none.
    expect(row.noiseFloorLufs).toBeNull();
    const paused = blocks.map((z, i) => (i % 8 === 0 ? z / 10_000 : z));
    const quiet = { ...entry, measurement: { ...entry.measurement!, blocks: paused } };
    expect(ledgerRow(quiet, EBU_R128).noiseFloorLufs).toBeCloseTo(noiseFloor(paused)! - 7.5, 9);
    expect(ledgerRow(measuredClip(entry.clip, null), EBU_R128)).toMatchObject({
      level: { lufs: null },
      state: 'notMeasured',
    });
  });

  it('says what was recorded without what lies on the clip besides', async () => {
    const entry = await measured(-7.5, PLAIN);
    // Measured with 5 dB of trim, track and group on it.
    const measurement = withBaseGain(entry.measurement!, 5);
    const clip = { ...entry.clip, trimDb: 2 };
    const row = ledgerRow({ ...measuredClip(clip, measurement), besidesDb: 3 }, EBU_R128);
    expect(row.recordedLufs).toBeCloseTo(entry.measurement!.figures.integratedLufs!, 3);
  });

  it('says first what matters most', async () => {
    const state = async (db: number, reason: GainReason, length?: number): Promise<string> =>
      ledgerRow(await measured(db, reason, length), EBU_R128).state;
    const { clip, measurement } = await measured(0, PLAIN);
    const request = {
      measure: 'integrated',
      mode: 'each',
      goal: -23,
      ceilingDbtp: -1,
      policy: 'stop',
    } as const;
    const [row] = propose([measuredClip(clip, measurement)], {
      ...request,
      spokenOnly: false,
      floorLufs: null,
    }).rows;
    const right = row!.gainAfterDb;
    expect(await state(right, PLAIN)).toBe('right');
    expect(await state(right - 5, PLAIN)).toBe('off');
    expect(await state(right - 5, { kind: 'byHand' })).toBe('byHand');
    expect(await state(right + 40, { kind: 'byHand' })).toBe('ceiling');
    expect(await state(right, levelled())).toBe('right');
    expect(await state(right - 11, levelled({ goal: -34 }))).toBe('right');
    expect(await state(right - 5, levelled({ goal: -34 }))).toBe('off');
    // Of several levelled together none needs to stand at the goal by itself.
    expect(await state(right - 5, levelled({ mode: 'together' }))).toBe('right');
    expect(await state(right, levelled({ of: 'now' }))).toBe('right');
    expect(await state(right, levelled({ of: 'as it was' }))).toBe('stale');
    // Cut otherwise, but with the same figure, it is what the gain was worked out for; by its track it is not moved.
    const own = measurement!.figures.integratedLufs!;
    const of = 'as it was';
    expect(await state(right, levelled({ of, measured: own + 0.04 }))).toBe('right');
    expect(await state(right, levelled({ of, measured: own + 0.06 }))).toBe('stale');
    const onTrack = {
      ...(await measured(right, levelled({ of, measured: own - 3, besidesDb: 3 }))),
      besidesDb: 3,
    };
    expect(ledgerRow(onTrack, EBU_R128).state).toBe('right');
    // Under 400 ms it is measured ungated: judged like any other, but not called off for it.
    expect(await state(right - 8, PLAIN, 9_000)).toBe('short');
    expect(await state(right + 40, PLAIN, 9_000)).toBe('ceiling');
    const short = ledgerRow(await measured(right - 8, PLAIN, 9_000), EBU_R128);
    expect(short.level).toMatchObject({ ungated: true, standing: 'under' });
    expect(short.level.lufs).toBeCloseTo(short.recordedLufs! + right - 8, 9);
    const there = right - 8 - short.level.relative!;
    expect(await state(there, PLAIN, 9_000)).toBe('right');
    const silent = { ...measurement!, figures: { ...measurement!.figures, truePeakDbtp: null } };
    expect(ledgerRow(measuredClip(clip, silent), EBU_R128).state).toBe('silent');
  });
});

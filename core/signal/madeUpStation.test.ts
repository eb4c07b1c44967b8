import { describe, expect, it, vi } from 'vitest';
import { programmeLayout } from '@/core/audio/layout';
import { figuresOf } from '@/core/loudness/figures';
import { LoudnessMeter } from '@/core/loudness/meter';
import { weighted, type SubBlockHistory } from '@/core/loudness/subBlocks';
import { measureClip } from '@/core/measuring/measureClip';
import { movesLinearly } from '@/core/measuring/moving';
import { ProgrammeMeasurement } from '@/core/measuring/programmeMeasurement';
import { changeGain } from '@/core/programme/edits/gain';
import { programmeFrames, type Clip, type Project } from '@/core/programme/model';
import { AFTER, BEFORE } from '@/core/testing/madeUpStations';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { asRecorded } from './asRecorded';
import { clipKey } from './clipKey';
import { clipSound } from './clipSound';
import { renderRange, renderTaps } from './mix';
import type * as Path from './path';

vi.mock('./path', async (original) => {
  const path = await original<typeof Path>();
  const { polarity, squeezed } = await import('@/core/testing/madeUpStations');
  const shape = [...path.CLIP_SHAPE, polarity];
  return {
    ...path,
    CLIP_SHAPE: shape,
    CLIP_PATH: [...shape, ...path.CLIP_LEVEL],
    TRACK_PATH: [...path.TRACK_PATH, squeezed],
  };
});

const always = (): boolean => true;

async function fresh(project: Project): Promise<SubBlockHistory> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, 0, programmeFrames(project)));
  return meter.finish();
}

async function expectUpToDate(measurement: ProgrammeMeasurement, project: Project): Promise<void> {
  measurement.update(project);
  await measurement.measure(openTestSource, always);
  const [found, expected] = [measurement.history!, await fresh(project)];
  const [a, b] = [found, expected].map(figuresOf);
  expect(a!.integratedLufs).toBeCloseTo(b!.integratedLufs!, 6);
  expect(a!.truePeakDbtp).toBeCloseTo(b!.truePeakDbtp!, 6);
  const fully = weighted(expected).energy;
  found.energy.forEach((z, k) => expect(Math.abs(z - fully[k]!)).toBeLessThan(1e-7 * (1e-3 + z)));
}

const named = (project: Project, id: string, name: string): Project => ({
  ...project,
  clips: project.clips.map((clip) => (clip.id === id ? { ...clip, name } : clip)),
});
const squeeze = (project: Project): Project => ({
  ...project,
  tracks: project.tracks.map((track) => (track.id === 't0' ? { ...track, name: 'Squeezed' } : track)),
});

describe('a station added to the path of a clip', () => {
  const clip = testClip({ id: 'a', start: 48_000, sourceId: 's1' });
  const other = testClip({ id: 'b', start: 20_000, length: 150_000 });
  const project = testProject([clip, other]);

  it('is heard, and part of the clip’s own measurement and of its key', async () => {
    const turned = named(project, 'a', 'turned');
    const only = (of: Clip) => of.id === 'a';
    const [plain, heard] = await Promise.all(
      [project, turned].map((state) => renderRange(state, openTestSource, 0, 200_000, only)),
    );
    plain!.forEach((channel, c) =>
      expect(channel.findIndex((x, i) => Math.abs(x + heard![c]![i]!) > 1e-6)).toBe(-1),
    );
    expect(clipKey(turned, turned.clips[0]!)).toBe(`${clipKey(project, clip)}/polarity=turned`);
    const late = named(project, 'a', 'turned late');
    const reader = await openTestSource(project.sources[1]!);
    const [before, after] = await Promise.all(
      [project, late].map((state) => measureClip(reader, clipSound(state, state.clips[0]!)!, always)),
    );
    // A step where it turns round adds energy there.
    expect(after!.meanSquare).not.toBeCloseTo(before!.meanSquare, 9);
  });

  it('makes dirty just the range that it says, and the measurement follows', async () => {
    const measurement = new ProgrammeMeasurement();
    await expectUpToDate(measurement, project);
    const late = named(project, 'a', 'turned late');
    measurement.update(late);
    // 3 s to 5 s, and until the filters have settled.
    expect(measurement.dirty).toEqual([{ from: 150, to: 250 }]);
    await expectUpToDate(measurement, late);
    await expectUpToDate(measurement, named(late, 'b', 'turned'));
  });

  it('is undone where it says so when all is heard as recorded', () => {
    expect(asRecorded(named(project, 'a', 'turned')).clips[0]!.name).toBe('plain');
  });
});

describe('a station on a track that is not linear', () => {
  const clips = [
    testClip({ id: 'a', start: 10_000, length: 60_000 }),
    testClip({ id: 'b', start: 50_000, length: 100_000, sourceId: 's1' }),
    testClip({ id: 'c', start: 0, length: 130_000, trackId: 't1' }),
  ];
  const project = squeeze(testProject(clips));

  it('works on the sum of the clips of its track, and any range fits its neighbours to the bit', async () => {
    const apart = (trackId: string) => (clip: Clip) => clip.trackId === trackId;
    const [whole, bus, rest] = await renderTaps(project, openTestSource, 0, 160_000, [
      () => true,
      apart('t0'),
      apart('t1'),
    ]);
    const [sum] = await renderTaps(testProject(clips), openTestSource, -BEFORE, 160_000 + BEFORE + AFTER, [
      apart('t0'),
    ]);
    for (const c of [0, 1])
      for (let i = 0; i < 160_000; i += 41) {
        const x = sum![c]!;
        const here = i + BEFORE;
        const held = Math.min(1, Math.abs(x[here - BEFORE]!) + Math.abs(x[here + AFTER]!)) / 2;
        expect(bus![c]![i]).toBeCloseTo(x[here]! * (1 - held), 6);
        expect(whole![c]![i]).toBeCloseTo(bus![c]![i]! + rest![c]![i]!, 6);
      }
    const parts = await Promise.all(
      [0, 51_000, 100_333].map((from, i) =>
        renderRange(project, openTestSource, from, [51_000, 49_333, 59_667][i]!),
      ),
    );
    whole!.forEach((channel, c) => {
      const joined = parts.flatMap((part) => [...part[c]!]);
      expect(channel.findIndex((x, i) => x !== joined[i])).toBe(-1);
    });
  });

  it('is measured as far as it reaches, whatever is edited', async () => {
    const measurement = new ProgrammeMeasurement();
    await expectUpToDate(measurement, testProject(clips));
    await expectUpToDate(measurement, project);
    const changed = changeGain(project, new Set(['a']), { kind: 'set', db: 9 });
    await expectUpToDate(measurement, changed);
    const moved = { ...changed, clips: [...clips.slice(1), { ...clips[0]!, start: 90_000 }] };
    await expectUpToDate(measurement, moved);
    await expectUpToDate(measurement, {
      ...moved,
      clips: moved.clips.map((clip) => ({ ...clip, trackId: 't1' })),
    });
  });

  it('keeps what goes through it out of the sums of a drag', () => {
    expect(movesLinearly(project, new Set(['a']))).toBe(false);
    expect(movesLinearly(project, new Set(['c']))).toBe(true);
    expect(movesLinearly(testProject(clips), new Set(['a']))).toBe(true);
  });
});

describe('taps of the mix', () => {
  it('of clips, tracks and any selection add up to the programme', async () => {
    const clips = ['s0', 's1', 's2', 's3'].map((sourceId, i) =>
      testClip({ id: `c${i}`, sourceId, start: i * 9_000, length: 60_000, trackId: `t${i % 2}` }),
    );
    const project = testProject(clips);
    const taps = clips.map((own) => (clip: Clip) => clip === own);
    const [whole, first, ...others] = await renderTaps(project, openTestSource, 5_000, 70_000, [
      () => true,
      (clip) => clip.trackId === 't0',
      ...taps,
    ]);
    for (const c of [0, 1])
      for (let i = 0; i < 70_000; i += 31) {
        const sum = others.reduce((total, sound) => total + sound[c]![i]!, 0);
        expect(whole![c]![i]).toBeCloseTo(sum, 6);
        expect(first![c]![i]).toBeCloseTo(others[0]![c]![i]! + others[2]![c]![i]!, 6);
      }
  });
});

import { describe, expect, it } from 'vitest';
import { changeGain } from '@/core/programme/edits/gain';
import type { Project } from '@/core/programme/model';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { OF_PROGRAMME } from '@/core/signal/mix';
import { openTestSource, testClip, testProject } from '@/core/testing/projects';
import { ProgrammeMeasurement } from './programmeMeasurement';
import { reductionTracks, StandingReductions } from './reductions';

const always = (): boolean => true;

async function measured(project: Project, measurement = new ProgrammeMeasurement()) {
  measurement.update(project);
  await measurement.measure(openTestSource, always);
  return reductionTracks(measurement.reduction);
}

describe('what limiters take off', () => {
  const clips = [
    testClip({ id: 'a', length: 96_000, limiter: { ...SPEECH_AND_MUSIC, ceilingDbtp: -12 } }),
    testClip({ id: 'b', start: 300_000, length: 90_000, sourceId: 's1', trackId: 't1' }),
  ];
  const base = testProject(clips);
  const project: Project = {
    ...base,
    tracks: base.tracks.map((track) =>
      track.id === 't1' ? { ...track, limiter: { ...SPEECH_AND_MUSIC, ceilingDbtp: -15 } } : track,
    ),
    limiter: { ...SPEECH_AND_MUSIC, ceilingDbtp: -20 },
  };

  it('is told for clips, tracks and the programme, where each works', async () => {
    const all = await measured(project);
    expect([...all.keys()].sort()).toEqual(['a', OF_PROGRAMME, 't1'].sort());
    // The clip lies in the first two seconds, the track's from 6.25 s on.
    expect(all.get('a')!.blocks.every((block) => block < 21)).toBe(true);
    expect(all.get('t1')!.blocks.every((block) => block >= 62)).toBe(true);
    for (const { db } of all.values()) expect(Math.max(...db)).toBeGreaterThan(1);
  });

  it('is the same after edits as measured from the start, and goes when limiters go', async () => {
    const measurement = new ProgrammeMeasurement();
    await measured(project, measurement);
    const louder = changeGain(project, new Set(['b']), { kind: 'set', db: 6 });
    expect(await measured(louder, measurement)).toEqual(await measured(louder));
    const shorter = { ...louder, clips: [louder.clips[0]!] };
    expect(await measured(shorter, measurement)).toEqual(await measured(shorter));
    const none = { ...shorter, limiter: null, clips: [{ ...shorter.clips[0]!, limiter: null }] };
    expect((await measured(none, measurement)).size).toBe(0);
  });

  it('is put range by range, and nothing outside a range is touched', () => {
    const standing = new StandingReductions();
    const found = (...blocks: number[]) => new Map([['x', new Map(blocks.map((at) => [at, at + 1]))]]);
    standing.put({ from: 0, to: 50 }, found(0, 3, 9, 12));
    standing.put({ from: 50, to: 100 }, found(9, 12));
    expect([...standing.blocks.get('x')!.keys()]).toEqual([0, 3, 9, 12]);
    standing.put({ from: 0, to: 50 }, found(4));
    expect([...standing.blocks.get('x')!.keys()].sort((a, b) => a - b)).toEqual([4, 12]);
    standing.clear(0, Infinity);
    expect(standing.blocks.size).toBe(0);
  });
});

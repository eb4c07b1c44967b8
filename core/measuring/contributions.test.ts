import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { programmeLayout } from '@/core/audio/layout';
import { figuresOf } from '@/core/loudness/figures';
import { integratedWithin } from '@/core/loudness/levelTrack';
import { LoudnessMeter } from '@/core/loudness/meter';
import { subBlockCount, weightedEnergy, type SubBlockHistory } from '@/core/loudness/subBlocks';
import { programmeFrames, type Clip, type Project } from '@/core/programme/model';
import { EVERYTHING, renderRange, type Tap } from '@/core/signal/mix';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { contributionsOf, type Contributions } from './contributions';
import type { SubBlockRange } from './dirtyRanges';
import { KeptParts } from './keptParts';
import { measureParts } from './measureParts';
import { clipPart, partOfRole, REST_PART, trackPart } from './parts';

async function measured(
  project: Project,
  tap: Tap = EVERYTHING,
  [from, to] = [0, programmeFrames(project)],
): Promise<SubBlockHistory> {
  const meter = new LoudnessMeter(programmeLayout(project.layoutId), project.sampleRate);
  meter.push(await renderRange(project, openTestSource, from, to - from, tap));
  return meter.finish();
}

const integratedOf = async (project: Project, tap: Tap): Promise<number | null> =>
  figuresOf(await measured(project, tap)).integratedLufs;

/** Measures what a state needs. @returns the ranges measured */
async function follow(kept: KeptParts, project: Project): Promise<readonly SubBlockRange[]> {
  const ranges = kept.update(project);
  for (const range of ranges)
    kept.put((await measureParts(kept.project, range, openTestSource, () => true))!);
  return ranges;
}

async function contributions(project: Project): Promise<Contributions> {
  const kept = new KeptParts();
  await follow(kept, project);
  return contributionsOf(kept.joined, project.sampleRate, null, []);
}

const near = (found: number | null | undefined, expected: number | null): void =>
  found === null || found === undefined || expected === null
    ? expect(found ?? null).toBe(expected)
    : expect(found).toBeCloseTo(expected, 4);

const clip = (id: string, seconds: number, change: Partial<Clip> = {}) =>
  testClip({ id, start: seconds * 48_000, length: 3 * 48_000, ...change });

describe('what the parts of a programme bring to its loudness', () => {
  it('is what is measured of each by itself, and of the programme without it', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, async (clips) => {
        const project = testProject(clips);
        const { integratedLufs, parts } = await contributions(project);
        near(integratedLufs, await integratedOf(project, EVERYTHING));
        const expectPart = async (key: string, tap: Tap): Promise<void> => {
          const found = parts.get(key);
          if (!found) return expect(await integratedOf(project, tap)).toBeNull();
          near(found.ownLufs, await integratedOf(project, tap));
          near(found.withoutLufs, await integratedOf(project, (one) => !tap(one)));
        };
        for (const { id } of clips.slice(0, 3)) await expectPart(clipPart(id), (one) => one.id === id);
        for (const { id } of project.tracks) await expectPart(trackPart(id), (one) => one.trackId === id);
        await expectPart(REST_PART, (one) => one.trackId === 't1');
      }),
      { numRuns: 6 },
    );
  });

  it('adds up to one over the clips and over the tracks, and goes by their powers', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, async (clips) => {
        const project = testProject(clips);
        const { integratedLufs, parts } = await contributions(project);
        if (integratedLufs === null) return;
        const of = (id: string): number => parts.get(clipPart(id))?.share ?? 0;
        expect(clips.reduce((sum, { id }) => sum + of(id), 0)).toBeCloseTo(1, 8);
        expect(
          project.tracks.reduce((sum, { id }) => sum + (parts.get(trackPart(id))?.share ?? 0), 0),
        ).toBeCloseTo(1, 8);
      }),
      { numRuns: 6 },
    );
    // Two clips apart from each other, one 6 dB over the other: the gated powers are 4 to 1.
    const by6 = 20 * Math.log10(2);
    const gain = { db: -by6, lastChangeDb: 0, reason: { kind: 'byHand' as const } };
    const { parts } = await contributions(testProject([clip('a', 0), clip('b', 5, { gain })]));
    expect(parts.get(clipPart('a'))!.share).toBeCloseTo(0.8, 2);
    expect(parts.get(clipPart('b'))!.share).toBeCloseTo(0.2, 2);
  });

  it('is none of what the gates leave out, and all of what is alone', async () => {
    const gain = { db: -60, lastChangeDb: 0, reason: { kind: 'byHand' as const } };
    const { parts } = await contributions(testProject([clip('loud', 0), clip('quiet', 6, { gain })]));
    expect(parts.get(clipPart('quiet'))!.share).toBeCloseTo(0, 9);
    const alone = await contributions(testProject([clip('only', 1)]));
    expect(alone.parts.get(clipPart('only'))).toMatchObject({ withoutLufs: null });
    expect(alone.parts.get(clipPart('only'))!.share).toBeCloseTo(1, 9);
  });

  it('is told of a range by itself', async () => {
    const project = testProject([clip('a', 0), clip('b', 5), clip('music', 5, { trackId: 't1' })]);
    const kept = new KeptParts();
    await follow(kept, project);
    const found = contributionsOf(kept.joined, 48_000, { from: 5, to: 8 }, []);
    expect(found.parts.has(clipPart('a'))).toBe(false);
    const range: [number, number] = [5 * 48_000, 8 * 48_000];
    const energy = await measured(project, EVERYTHING, range);
    // The filters begin settled here and unsettled there.
    expect(found.integratedLufs).toBeCloseTo(figuresOf(energy).integratedLufs!, 1);
  });

  it('tells the spoken tracks by themselves while somebody speaks', async () => {
    const project = testProject([clip('a', 0), clip('b', 4), clip('music', 0, { trackId: 't1' })]);
    const kept = new KeptParts();
    await follow(kept, project);
    const found = contributionsOf(kept.joined, 48_000, null, [{ from: 4, to: 7 }]);
    const spoken = weightedEnergy(await measured(project, (one) => one.trackId === 't0'));
    const within = integratedWithin({ energy: spoken, sampleRate: 48_000 }, [{ from: 4, to: 7 }]);
    expect(found.spokenLufs).toBeCloseTo(within.integratedLufs!, 4);
    expect(partOfRole(project.tracks, 'music')).toBe(trackPart('t1'));
  });

  it('is measured anew only around what was changed, and is then the same as all anew', async () => {
    const clips = Array.from({ length: 20 }, (_, i) => clip(`c${i}`, i * 3));
    const before = testProject(clips);
    const kept = new KeptParts();
    expect(await follow(kept, before)).toHaveLength(3);
    const gain = { db: -7, lastChangeDb: 0, reason: { kind: 'byHand' as const } };
    const after = {
      ...before,
      clips: before.clips.map((one) =>
        one.id === 'c2' ? { ...one, gain } : one.id === 'c3' ? { ...one, trackId: 't0' } : one,
      ),
    };
    const ranges = await follow(kept, after);
    expect(ranges).toEqual([{ from: 0, to: 1000 }]);
    const fresh = await contributions(after);
    expect(contributionsOf(kept.joined, 48_000, null, [])).toEqual(fresh);
    // Another track, the same sound: which clips belong to it has changed.
    const moved = {
      ...after,
      clips: after.clips.map((one) => (one.id === 'c3' ? { ...one, trackId: 't1' } : one)),
    };
    expect(await follow(kept, moved)).toHaveLength(3);
    expect(subBlockCount(programmeFrames(moved), 48_000)).toBe(3000);
  });

  it('can be stopped', async () => {
    const project = testProject([testClip({ id: 'a' })]);
    expect(await measureParts(project, { from: 0, to: 200 }, openTestSource, () => false)).toBeNull();
  });
});

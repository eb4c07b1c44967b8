import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { renderRange } from '@/core/signal/mix';
import { totalDbOf } from '../clipGain';
import { clipEnd, programmeFrames, type Clip, type Project } from '../model';
import { placeSource } from './clips';
import { pasteClips, removeAndClose, splitClips, trimClips } from './cutting';
import { moveEverything, setSourceTrims, setTrackGain } from './levels';

const named = (clip: Clip): string => `${clip.id}'`;
const all = (project: Project): Set<string> => new Set(project.clips.map(({ id }) => id));
const clipOf = (project: Project, id: string): Clip => project.clips.find((clip) => clip.id === id)!;

describe('a split', () => {
  it('outside fades changes nothing that is heard', async () => {
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, fc.nat(8 * 48_000), async (clips, at) => {
        const project = testProject(clips.slice(0, 2).map((clip) => ({ ...clip, fadeIn: 0, fadeOut: 0 })));
        const split = splitClips(project, all(project), at, named);
        const frames = Math.min(60_000, programmeFrames(project));
        const from = Math.max(0, Math.min(at - 30_000, programmeFrames(project) - frames));
        const [before, after] = await Promise.all(
          [project, split].map((state) => renderRange(state, openTestSource, from, frames)),
        );
        // Summed in another order where clips overlap, so only to the rounding of a sum.
        before!.forEach((channel, c) =>
          channel.forEach((x, i) => {
            if (Math.abs(x - after![c]![i]!) > 1e-6) throw new Error(`channel ${c}, frame ${from + i}`);
          }),
        );
        for (const clip of project.clips) {
          const parts = split.clips.filter(({ id }) => id === clip.id || id === named(clip));
          expect(parts.reduce((sum, part) => sum + part.length, 0)).toBe(clip.length);
          expect(parts.every((part) => part.length > 0)).toBe(true);
        }
      }),
      { numRuns: 15 },
    );
  });

  it('outside the clips is no change', () => {
    const project = testProject([testClip({ id: 'a' })]);
    expect(splitClips(project, all(project), 0, named)).toBe(project);
    expect(splitClips(project, all(project), 10 * 48_000, named)).toBe(project);
  });
});

describe('an edge', () => {
  it('goes as far as the source reaches and no further, and the sound stays where it is', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -500_000, max: 900_000 }),
        fc.constantFrom('start' as const, 'end' as const),
        fc.nat(100_000),
        (at, edge, sourceStart) => {
          const clip = testClip({ id: 'a', start: 120_000, sourceStart, length: 50_000 });
          const trimmed = clipOf(trimClips(testProject([clip]), new Set(['a']), edge, at), 'a');
          expect(trimmed.sourceStart).toBeGreaterThanOrEqual(0);
          expect(trimmed.start).toBeGreaterThanOrEqual(0);
          expect(trimmed.length).toBeGreaterThan(0);
          expect(trimmed.sourceStart + trimmed.length).toBeLessThanOrEqual(4 * 48_000);
          expect(trimmed.start - trimmed.sourceStart).toBe(clip.start - clip.sourceStart);
          const other = edge === 'start' ? clipEnd : ({ start }: Clip) => start;
          expect(other(trimmed)).toBe(other(clip));
        },
      ),
    );
  });
});

describe('copies', () => {
  it('keep their distance, gains and tracks; what has no source any more is left out', () => {
    const gain = { db: 3, lastChangeDb: 3, reason: { kind: 'byHand' } } as const;
    const a = testClip({ id: 'a', start: 1_000, length: 10 });
    const b = testClip({ id: 'b', start: 5_000, length: 10, trackId: 't1', gain });
    const gone = testClip({ id: 'c', sourceId: 'gone' });
    const elsewhere = testClip({ id: 'd', start: 1_000, trackId: 'other' });
    const pasted = pasteClips(testProject([a, b]), [a, b, gone, elsewhere], 90_000, named);
    expect(pasted.clips).toHaveLength(5);
    expect(clipOf(pasted, "a'").start).toBe(90_000);
    expect(clipOf(pasted, "b'")).toMatchObject({ start: 94_000, trackId: 't1', gain });
    expect(clipOf(pasted, "d'").trackId).toBe('t0');
  });
});

describe('taking out with closing the gap', () => {
  it('moves up what comes later on the same track, by what was taken out before it', () => {
    const clip = (id: string, start: number, length: number, trackId = 't0') =>
      testClip({ id, start, length, trackId });
    const project = testProject([
      clip('a', 0, 100),
      clip('b', 150, 100),
      clip('b2', 200, 100),
      clip('c', 400, 50),
      clip('d', 400, 50, 't1'),
    ]);
    const after = removeAndClose(project, new Set(['b', 'b2']));
    expect(after.clips.map(({ id, start }) => [id, start])).toEqual([
      ['a', 0],
      ['c', 250],
      ['d', 400],
    ]);
  });
});

describe('levels beside the clips’ own gain', () => {
  const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b', trackId: 't1', sourceId: 's1' })]);
  const totals = (state: Project): number[] => state.clips.map(totalDbOf(state));

  it('a track takes its clips along; everything moves once, and all stop where one can go no further', () => {
    const louder = setTrackGain(project, 't1', 6);
    expect(totals(louder)).toEqual([0, 6]);
    expect(totals(moveEverything(louder, -4))).toEqual([-4, 2]);
    expect(totals(moveEverything(louder, 99))).toEqual([42, 48]);
    expect(moveEverything(project, 0)).toBe(project);
  });

  it('a source’s trim is what later clips begin with; placed ones keep theirs unless asked', () => {
    const trimmed = setSourceTrims(project, new Map([['s0', 5]]), false);
    expect(totals(trimmed)).toEqual([0, 0]);
    const placed = placeSource(trimmed, { clipId: 'n', sourceId: 's0', trackId: 't0', start: 0 });
    expect(totals(placed)).toEqual([0, 0, 5]);
    expect(clipOf(placed, 'n').gain.reason.kind).toBe('asRecorded');
    // Set, each has it; changed, each changes by as much.
    expect(totals(setSourceTrims(placed, new Map([['s0', -2]]), true))).toEqual([-2, 0, -2]);
    expect(totals(setSourceTrims(placed, new Map([['s0', -2]]), 'change'))).toEqual([-7, 0, -2]);
  });

  it('is what is rendered', async () => {
    const state = setTrackGain(setSourceTrims(project, new Map([['s0', 2]]), true), 't0', -8);
    const alone = { ...state, clips: [state.clips[0]!] };
    const [x] = await renderRange(alone, openTestSource, 48_000, 100);
    const [plain] = await renderRange(
      { ...project, clips: [project.clips[0]!] },
      openTestSource,
      48_000,
      100,
    );
    plain!.forEach((sample, i) => expect(x![i]).toBeCloseTo(sample * 10 ** (-6 / 20), 6));
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { clipEnd, type Clip } from './model';
import { covering, freePlace } from './overlaps';

const cover = (a: Clip, b: Clip): boolean =>
  a.trackId === b.trackId && a.start < clipEnd(b) && b.start < clipEnd(a);

describe('what lies over what', () => {
  it('is told as looking at every pair tells it', () => {
    fc.assert(
      fc.property(clipsArbitrary, fc.nat(5), (clips, n) => {
        const ids = new Set(clips.slice(0, n).map(({ id }) => id));
        const others = clips.filter(({ id }) => !ids.has(id));
        const expected = clips.filter(
          (clip) => ids.has(clip.id) && others.some((other) => cover(clip, other)),
        );
        expect(covering(testProject(clips), ids)).toEqual(expected);
      }),
    );
  });

  it('the free place is the first from which nothing is covered', () => {
    fc.assert(
      fc.property(clipsArbitrary, clipsArbitrary, fc.nat(400_000), (there, laid, at) => {
        const project = testProject(there);
        const first = Math.min(...laid.map(({ start }) => start));
        const covers = (place: number): boolean =>
          laid.some((clip) =>
            there.some((other) => cover({ ...clip, start: clip.start - first + place }, other)),
          );
        const place = freePlace(project, laid, at);
        expect(place).toBeGreaterThanOrEqual(at);
        expect(covers(place)).toBe(false);
        // Nowhere before: the places where something ends are all there is to try.
        const earlier = there.flatMap((other) => laid.map((clip) => clipEnd(other) - (clip.start - first)));
        for (const other of [at, ...earlier])
          if (other >= at && other < place) expect(covers(other)).toBe(true);
      }),
    );
    expect(freePlace(testProject([testClip({ id: 'a' })]), [testClip({ id: 'b' })], 5)).toBe(192_000);
  });
});

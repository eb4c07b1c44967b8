import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { fadeAt } from '@/core/programme/fadeLaw';
import { curveArbitrary, testClip, testProject } from '@/core/testing/projects';
import { curveDbAt, SILENT_DB } from '../curve';
import { clipEnd } from '../model';
import { crossfade, followCrossfades, handlesOf, isCrossfade, joinAfter } from './crossfades';
import { trimClips } from './cutting';
import { clipsToFade, copyFades, fadeAll, setFades } from './fades';
import { changeLimiters, limitersOf } from './limiters';
import {
  copyPoints,
  curveOwnedBy,
  movePoints,
  pastePoints,
  pointRoom,
  removePoints,
  setPoint,
  shapeSegments,
  type CurveOwner,
} from './points';

const clip = testClip({ id: 'a', length: 96_000 });
const own: CurveOwner = { kind: 'clip', id: 'a' };
const points = (...at: (readonly [number, number])[]) => at.map(([place, db]) => ({ at: place, db }));
const project = testProject([{ ...clip, curve: points([0, 0], [100, -6], [200, -6], [300, 0]) }]);

describe('points of a curve', () => {
  it('are set on the line or at a level, on a clip, a track or the programme', () => {
    const onLine = setPoint(project, own, 50);
    expect(curveOwnedBy(onLine, own)).toContainEqual({ at: 50, db: -3 });
    for (const owner of [own, { kind: 'track', id: 't1' } as const, { kind: 'programme' } as const]) {
      const set = setPoint(setPoint(project, owner, 500, 3), owner, 500, -2);
      expect(curveOwnedBy(set, owner).filter(({ at }) => at === 500)).toEqual([{ at: 500, db: -2 }]);
    }
  });

  it('move together, and none passes one that stays, nor leaves what a curve can do', () => {
    fc.assert(
      fc.property(
        curveArbitrary,
        fc.array(fc.nat(4), { minLength: 1, maxLength: 3 }),
        fc.integer({ min: -300_000, max: 300_000 }),
        fc.double({ min: -100, max: 100, noNaN: true }),
        (curve, which, frames, db) => {
          fc.pre(curve.length > 0);
          const base = testProject([{ ...clip, curve }]);
          const places = new Set(which.map((i) => curve[i % curve.length]!.at));
          const moved = curveOwnedBy(movePoints(base, own, places, { frames, db }), own);
          expect(moved).toHaveLength(curve.length);
          const room = pointRoom(curve, places);
          const given = Math.min(room.maxDb, Math.max(room.minDb, db));
          moved.forEach((point, i) => {
            const before = curve[i]!;
            if (i > 0) expect(point.at).toBeGreaterThan(moved[i - 1]!.at);
            if (!places.has(before.at)) return expect(point).toEqual(before);
            expect(point.shape).toBe(before.shape);
            if (before.db <= SILENT_DB) expect(point.db).toBe(before.db);
            else expect(point.db).toBeCloseTo(before.db + given, 9);
            expect(point.db > 48.001 || (point.db < -72.001 && point.db > SILENT_DB)).toBe(false);
          });
        },
      ),
    );
  });

  it('are taken out, and shaped', () => {
    const few = removePoints(project, own, new Set([100]));
    expect(curveDbAt(curveOwnedBy(few, own), 100)).toBe(-3);
    expect(curveOwnedBy(removePoints(project, own, new Set([100, 200])), own)).toEqual([]);
    const eased = shapeSegments(project, own, new Set([0]), 'easeStart');
    expect(curveDbAt(curveOwnedBy(eased, own), 50)).toBeCloseTo(-1.5, 9);
    expect(shapeSegments(eased, own, new Set([0]))).toEqual(project);
    expect(shapeSegments(project, own, new Set([0]))).toBe(project);
  });

  it('are copied from clip to clips, from the start of each, as they are or to its length', () => {
    const from = { ...project.clips[0]!, sourceStart: 0 };
    const others = [
      testClip({ id: 'b', start: 200_000, sourceStart: 1_000, length: 48_000 }),
      testClip({ id: 'c', start: 400_000, length: 96_000, curve: points([250, 9], [700, 2]) }),
    ];
    const all = testProject([from, ...others]);
    const ids = new Set(['b', 'c']);
    const plain = pastePoints(all, ids, copyPoints(from), false);
    expect(plain.clips[1]!.curve.map(({ at }) => at)).toEqual([1_000, 1_100, 1_200, 1_300]);
    expect(plain.clips[2]!.curve).toEqual(points([0, 0], [100, -6], [200, -6], [300, 0], [700, 2]));
    const scaled = pastePoints(all, ids, copyPoints(from), true);
    expect(scaled.clips[1]!.curve.map(({ at }) => at)).toEqual([1_000, 1_050, 1_100, 1_150]);
    expect(copyPoints(from, new Set([200])).points).toEqual(points([200, -6]));
    expect(pastePoints(all, ids, copyPoints(from, new Set()), false)).toBe(all);
  });
});

describe('fades', () => {
  it('of one clip are put on others, as far as they have room', () => {
    const from = { ...clip, fadeIn: 4_000, fadeOut: 9_000, fadeInShape: 'smooth' } as const;
    const others = testProject([
      { ...clip, id: 'long' },
      { ...clip, id: 'short', length: 6_000 },
      { ...clip, id: 'left' },
    ]);
    const done = copyFades(others, new Set(['long', 'short']), from, 0.5);
    expect(done.clips.map(({ fadeIn, fadeOut, fadeInShape }) => [fadeIn, fadeOut, fadeInShape])).toEqual([
      [2_000, 4_500, 'smooth'],
      [2_000, 4_000, 'smooth'],
      [0, 0, 'equalPower'],
    ]);
  });

  it('are as long as there is room', () => {
    const faded = setFades(testProject([{ ...clip, fadeOut: 90_000 }]), new Set(['a']), 'in', {
      length: 50_000,
      shape: 'smooth',
    });
    expect(faded.clips[0]).toMatchObject({ fadeIn: 6_000, fadeInShape: 'smooth', fadeOut: 90_000 });
    expect(setFades(faded, new Set(['a']), 'in', { length: 7_000 })).toBe(faded);
  });

  it('for all that have none leave those that are there', () => {
    const clips = [
      { ...clip, fadeIn: 700 },
      testClip({ id: 'b', length: 100 }),
      testClip({ id: 'c', fadeIn: 20, fadeOut: 30 }),
      testClip({ id: 'd' }),
    ];
    const ids = new Set(['a', 'b', 'c']);
    const base = testProject(clips);
    expect(clipsToFade(base, ids, 480)).toEqual({ faded: ['a'], own: 1, short: 1 });
    const { clips: after } = fadeAll(base, ids, { length: 480, shape: 'straight' });
    expect(after[0]).toMatchObject({ fadeIn: 700, fadeInShape: 'equalPower', fadeOut: 480 });
    expect(after[0]!.fadeOutShape).toBe('straight');
    expect(after.slice(1)).toEqual(clips.slice(1));
  });
});

describe('a crossfade', () => {
  const before = testClip({ id: 'a', start: 10_000, length: 40_000, sourceStart: 5_000 });
  const after = testClip({ id: 'b', start: 50_000, length: 60_000, sourceStart: 30_000 });
  const other = testClip({ id: 'c', start: 50_000, trackId: 't1' });
  const two = testProject([before, after, other]);

  it('is found where clips of one track touch, and says what their sources have beyond', () => {
    const join = joinAfter(two, before)!;
    expect(join).toMatchObject({ shared: 0, after: { id: 'b' } });
    expect(joinAfter(two, after)).toBeNull();
    expect(handlesOf(join, 192_000)).toEqual({ after: 147_000, before: 30_000 });
  });

  it('lets each play on under the other, in step with its source, as long as the fades of both', () => {
    const join = joinAfter(two, before)!;
    const crossed = crossfade(two, join, 49_000, 53_000, 0.4);
    const [a, b] = crossed.clips;
    expect(a).toMatchObject({ start: 10_000, sourceStart: 5_000, fadeOut: 4_000, fadeOutShape: 0.4 });
    expect(clipEnd(a!)).toBe(53_000);
    expect(b).toMatchObject({ start: 49_000, sourceStart: 29_000, fadeIn: 4_000, fadeInShape: 0.4 });
    expect(clipEnd(b!)).toBe(110_000);
    expect(joinAfter(crossed, a!)).toMatchObject({ shared: 4_000 });
    // Trimmed at one side, its fades follow; trimmed until nothing is shared, there is none.
    const ids = new Set(['b']);
    const uneven = followCrossfades(crossed, trimClips(crossed, ids, 'start', 52_000), ids);
    expect(uneven.clips[0]).toMatchObject({ fadeOut: 1_000, length: 43_000 });
    expect(uneven.clips[1]).toMatchObject({ fadeIn: 1_000, start: 52_000 });
    expect(isCrossfade(joinAfter(uneven, uneven.clips[0]!)!)).toBe(true);
    const apart = followCrossfades(crossed, trimClips(crossed, ids, 'start', 60_000), ids);
    expect(apart.clips.slice(0, 2).map(({ fadeIn, fadeOut }) => [fadeIn, fadeOut])).toEqual([
      [0, 0],
      [0, 0],
    ]);
    const [g1, g2] = [fadeAt(0.3, 0.4), fadeAt(0.7, 0.4)];
    expect(g1 * g1 + g2 * g2 + 2 * 0.4 * g1 * g2).toBeCloseTo(1, 12);
  });
});

describe('limiters', () => {
  it('are put on many, changed on many, and taken off', () => {
    const base = testProject([clip, testClip({ id: 'b' })]);
    const both = { kind: 'clips', ids: new Set(['a', 'b']) } as const;
    const put = changeLimiters(base, both, () => SPEECH_AND_MUSIC);
    expect(limitersOf(put, both)).toEqual([SPEECH_AND_MUSIC, SPEECH_AND_MUSIC]);
    const lower = changeLimiters(put, both, (one) => one && { ...one, ceilingDbtp: -4 });
    expect(limitersOf(lower, both).map((one) => one?.ceilingDbtp)).toEqual([-4, -4]);
    expect(changeLimiters(lower, both, (one) => one && { ...one })).toBe(lower);
    expect(changeLimiters(lower, both, () => null)).toEqual(base);
    const track = changeLimiters(base, { kind: 'tracks', ids: new Set(['t1']) }, () => SPEECH_AND_MUSIC);
    expect(track.tracks.map(({ limiter }) => limiter)).toEqual([null, SPEECH_AND_MUSIC]);
    const whole = changeLimiters(base, { kind: 'programme' }, () => SPEECH_AND_MUSIC);
    expect(limitersOf(whole, { kind: 'programme' })).toEqual([SPEECH_AND_MUSIC]);
  });
});

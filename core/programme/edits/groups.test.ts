import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { testClip, testProject } from '@/core/testing/projects';
import { totalDbOf } from '../clipGain';
import { wholeGroup, withGroups } from '../groups';
import type { Project } from '../model';
import { removeClips } from './clips';
import { pasteClips } from './cutting';
import { changeGain } from './gain';
import { changeLevel, groupClips, renameGroup, ungroup, withoutEmptyGroups } from './groups';
import { linkTracks, moveTrackGain, setTrackGain, unlinkTrack } from './levels';
import { removeTrack } from './project';
import { addMarker, changeMarker, removeMarker } from './markers';

const ids = (...names: string[]): ReadonlySet<string> => new Set(names);
const clips = ['a', 'b', 'c', 'd'].map((id) => testClip({ id }));
const project = testProject(clips);
const pair = groupClips(project, ids('a', 'b'), 'g', 'Pair');
const totals = (state: Project): number[] => state.clips.map(totalDbOf(state));

describe('nested groups', () => {
  it('of fewer than two things are none', () => {
    expect(groupClips(project, ids('a'), 'g', 'Alone')).toBe(project);
    expect(groupClips(pair, ids('a', 'b'), 'h', 'Again')).toBe(pair);
  });

  it('are chosen whole, and told from any other choice', () => {
    expect(withGroups(pair, ids('a'))).toEqual(ids('a', 'b'));
    expect(withGroups(pair, ids('c'))).toEqual(ids('c'));
    expect(wholeGroup(pair, ids('a', 'b'))?.id).toBe('g');
    expect(wholeGroup(pair, ids('a'))).toBeNull();
    expect(wholeGroup(pair, ids('a', 'b', 'c'))).toBeNull();
    expect(wholeGroup(pair, ids('c', 'd'))).toBeNull();
  });

  it('have one gain, which every clip in them carries on when they are taken apart', () => {
    const louder = changeLevel(pair, ids('a', 'b'), { kind: 'change', db: 4 });
    expect(totals(louder)).toEqual([4, 4, 0, 0]);
    expect(louder.clips.map(({ gain }) => gain.db)).toEqual([0, 0, 0, 0]);
    expect(louder.groups[0]!.gain).toEqual({ db: 4, lastChangeDb: 4, reason: { kind: 'byHand' } });
    const outer = groupClips(louder, ids('a', 'b', 'c'), 'o', 'Outer');
    expect(outer.groups.find(({ id }) => id === 'g')!.parentId).toBe('o');
    const nested = changeLevel(outer, ids('a', 'b', 'c'), { kind: 'set', db: -10 });
    expect(totals(nested)).toEqual([-6, -6, -10, 0]);
    const apart = ungroup(nested, ids('o'));
    expect(totals(apart)).toEqual([-6, -6, -10, 0]);
    expect(apart.groups).toHaveLength(1);
    expect(totals(ungroup(apart, ids('g')))).toEqual([-6, -6, -10, 0]);
  });

  it('leave the gain of single clips to these', () => {
    const one = changeLevel(pair, ids('a'), { kind: 'set', db: 3 });
    expect(totals(one)).toEqual([3, 0, 0, 0]);
  });

  it('change nothing of what sounds when made and taken apart, however deep', () => {
    const gain = fc.integer({ min: -20, max: 20 });
    fc.assert(
      fc.property(fc.array(gain, { minLength: 4, maxLength: 4 }), gain, gain, (gains, inner, outer) => {
        const start = gains.reduce(
          (state, db, i) => changeGain(state, ids('abcd'[i]!), { kind: 'set', db }),
          project,
        );
        let state = groupClips(start, ids('a', 'b'), 'g', 'g');
        expect(totals(state)).toEqual(totals(start));
        state = changeLevel(state, ids('a', 'b'), { kind: 'set', db: inner });
        state = groupClips(state, ids('a', 'b', 'd'), 'o', 'o');
        state = changeLevel(state, ids('a', 'b', 'd'), { kind: 'set', db: outer });
        const [a, b, c, d] = gains as [number, number, number, number];
        const expected = [a + inner + outer, b + inner + outer, c, d + outer];
        // What one clip can have is the only limit.
        fc.pre(expected.every((db) => db <= 48));
        expect(totals(state)).toEqual(expected);
        expect(totals(ungroup(ungroup(state, ids('g')), ids('o')))).toEqual(expected);
        expect(totals(ungroup(state, ids('g', 'o')))).toEqual(expected);
      }),
    );
  });

  it('are copied with what is in them', () => {
    const louder = changeLevel(pair, ids('a', 'b'), { kind: 'set', db: 5 });
    const outer = groupClips(louder, ids('a', 'b', 'c'), 'o', 'Outer');
    let n = 0;
    const pasted = pasteClips(outer, outer.clips.slice(0, 3), 0, () => `n${++n}`);
    expect(totals(pasted)).toEqual([5, 5, 0, 0, 5, 5, 0]);
    expect(pasted.groups).toHaveLength(4);
    expect(wholeGroup(pasted, new Set(pasted.clips.slice(4).map(({ id }) => id)))?.name).toBe('Outer');
    expect(wholeGroup(pasted, ids('a', 'b', 'c'))?.id).toBe('o');
  });

  it('are renamed, and forgotten once nothing is left in them', () => {
    expect(renameGroup(pair, 'g', 'Duet').groups[0]!.name).toBe('Duet');
    const outer = groupClips(pair, ids('a', 'b', 'c'), 'o', 'Outer');
    expect(withoutEmptyGroups(outer)).toBe(outer);
    const without = withoutEmptyGroups(removeClips(outer, ids('a', 'b')));
    expect(without.groups.map(({ id }) => id)).toEqual(['o']);
    expect(withoutEmptyGroups(removeClips(without, ids('c'))).groups).toEqual([]);
  });
});

describe('linked tracks', () => {
  const gains = (state: Project): number[] => state.tracks.map(({ gainDb }) => gainDb);
  const linked = linkTracks(project, ids('t0', 't1'), 'l');

  it('move by the same amount, and stop together', () => {
    const uneven = setTrackGain(project, 't1', -6);
    const state = linkTracks(uneven, ids('t0', 't1'), 'l');
    expect(gains(setTrackGain(state, 't0', 3))).toEqual([3, -3]);
    expect(gains(moveTrackGain(state, 't1', 100))).toEqual([48, 42]);
    expect(moveTrackGain(state, 't1', 0)).toBe(state);
  });

  it('are unlinked again; one alone is linked to nothing', () => {
    expect(unlinkTrack(linked, 't0').tracks.map(({ linkId }) => linkId)).toEqual([null, null]);
    expect(linkTracks(project, ids('t0'), 'l').tracks[0]!.linkId).toBeNull();
    expect(removeTrack(linked, 't1').tracks.map(({ linkId }) => linkId)).toEqual([null]);
  });
});

describe('markers', () => {
  it('stay in order of time, none before the start', () => {
    let state = addMarker(project, { id: 'm', at: 500, name: 'Storm' });
    state = addMarker(state, { id: 'n', at: -5, name: 'Top' });
    expect(state.markers.map(({ id, at }) => [id, at])).toEqual([
      ['n', 0],
      ['m', 500],
    ]);
    state = changeMarker(state, 'n', { at: 900.4, name: 'Later' });
    expect(state.markers).toEqual([
      { id: 'm', at: 500, name: 'Storm' },
      { id: 'n', at: 900, name: 'Later' },
    ]);
    expect(removeMarker(state, 'm').markers).toHaveLength(1);
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { testClip, testProject } from '@/core/testing/projects';
import { changeGain } from './edits/gain';
import { groupClips, ungroup } from './edits/groups';
import { linkTracks, moveEverything, moveTrackGain, setSourceTrims, setTrackGain } from './edits/levels';
import { changeSections } from './edits/sections';
import {
  heldClips,
  heldEverything,
  heldLevel,
  heldParts,
  heldTrack,
  heldTrims,
  heldByUngrouping,
} from './heldChange';
import type { Project } from './model';

const withGains = (gains: readonly number[]): Project =>
  testProject(
    gains.map((db, i) =>
      testClip({
        id: `c${i}`,
        gain: { db, lastChangeDb: 0, reason: { kind: 'byHand' } },
        start: i * 300_000,
      }),
    ),
  );
const idsOf = (project: Project): Set<string> => new Set(project.clips.map(({ id }) => id));

describe('a change of several gains by one amount', () => {
  it('keeps their balance, however far it is asked to go, and says who stopped it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -72, max: 48 }), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: -120, max: 120 }),
        (gains, by) => {
          const project = withGains(gains);
          const held = heldClips(project, idsOf(project), by);
          const after = changeGain(project, idsOf(project), { kind: 'change', db: by });
          for (const [i, { gain }] of after.clips.entries()) {
            expect(gain.db - gains[i]!).toBeCloseTo(held.db, 9);
            expect(gain.db).toBeGreaterThanOrEqual(-72);
            expect(gain.db).toBeLessThanOrEqual(48);
          }
          expect(held.stopped === null).toBe(held.db === by);
          // It goes as far as it can: a hair more would leave what a gain can be.
          if (held.stopped !== null)
            expect(gains.some((db) => db + held.db === 48 || db + held.db === -72)).toBe(true);
        },
      ),
    );
  });

  it('is told in a sentence', () => {
    const project = withGains([45, 0]);
    expect(heldLevel(project, idsOf(project), 12)).toEqual({
      db: 3,
      stopped: '+12.0 dB asked, +3.0 dB done for all: the clip gain of c0 goes to +48 dB.',
    });
    expect(heldLevel(project, new Set(['c1']), 12)).toEqual({ db: 12, stopped: null });
  });

  it('stops linked tracks, all tracks and trims together', () => {
    const project = testProject();
    const linked = linkTracks(setTrackGain(project, 't0', 40), new Set(['t0', 't1']), 'l');
    expect(heldTrack(linked, 't1', 20)).toMatchObject({ db: 8, stopped: expect.stringMatching(/Dialogue/) });
    expect(moveTrackGain(linked, 't1', 20).tracks.map(({ gainDb }) => gainDb)).toEqual([48, 8]);
    expect(heldEverything(linked, 20).db).toBe(8);
    expect(moveEverything(linked, 20).tracks.map(({ gainDb }) => gainDb)).toEqual([48, 8]);
    const trimmed = setSourceTrims(project, new Map([['s0', 30]]), false);
    expect(heldTrims(trimmed, new Set(['s0', 's1']), 10)).toMatchObject({
      db: 6,
      stopped: expect.stringMatching(/trim of source 0\.wav goes to \+36 dB/),
    });
  });

  it('stops parts together', () => {
    const project = withGains([0, 0]);
    const range = { from: 48_000, to: 96_000 };
    const loud = changeSections(project, range, () => ({ kind: 'set', db: 40 }), 480);
    expect(heldParts(loud, idsOf(loud), range, 480, 20)).toMatchObject({ db: 8 });
    expect(heldParts(loud, idsOf(loud), range, 480, -20)).toEqual({ db: -20, stopped: null });
  });

  it('a trim for placed clips as well changes theirs by as much', () => {
    const base = testProject([testClip({ id: 'a', trimDb: 4 }), testClip({ id: 'b', sourceId: 's1' })]);
    const project = setSourceTrims(base, new Map([['s0', 1]]), false);
    const after = setSourceTrims(project, new Map([['s0', 3]]), 'change');
    expect(after.sources[0]!.trimDb).toBe(3);
    expect(after.clips.map(({ trimDb }) => trimDb)).toEqual([6, 0]);
  });

  it('a group taken apart names the clips whose gain cannot carry its gain on', () => {
    const grouped = groupClips(withGains([40, 0]), new Set(['c0', 'c1']), 'g', 'Pair');
    const [group] = grouped.groups;
    const loud = {
      ...grouped,
      groups: [{ ...group!, gain: { ...group!.gain, db: 12 } }],
    };
    expect(heldByUngrouping(loud, ungroup(loud, new Set(['g'])))).toEqual(['c0']);
    expect(heldByUngrouping(grouped, ungroup(grouped, new Set(['g'])))).toEqual([]);
  });
});

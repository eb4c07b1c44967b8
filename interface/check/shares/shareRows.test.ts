import { describe, expect, it } from 'vitest';
import type { Contribution } from '@/core/measuring/contributions';
import { clipPart, REST_PART, trackPart } from '@/core/measuring/parts';
import type { Project, Track } from '@/core/programme/model';
import { testClip, testProject } from '@/core/testing/projects';
import { shareRows } from './shareRows';

const part = (share: number, withoutLufs: number | null): Contribution => ({
  share,
  ownLufs: -30,
  withoutLufs,
});

const base = testProject([
  testClip({ id: 'talk' }),
  testClip({ id: 'song', trackId: 't1', start: 96_000 }),
  testClip({ id: 'bang', trackId: 't2', start: 48_000 }),
]);
const effects: Track = { ...base.tracks[1]!, id: 't2', name: 'Bangs', role: 'effects' };
const project: Project = { ...base, tracks: [...base.tracks, effects] };
const contributions = {
  integratedLufs: -20,
  spokenLufs: -24,
  parts: new Map([
    [trackPart('t0'), part(0.2, -21)],
    [trackPart('t1'), part(0.7, -26)],
    [trackPart('t2'), part(0.1, -20.2)],
    [REST_PART, part(0.8, null)],
    [clipPart('song'), part(0.7, -26)],
    [clipPart('talk'), part(0.2, -21)],
  ]),
};

describe('what makes it loud, in rows', () => {
  it('is told by role, the largest first, with all that does not speak together', () => {
    const rows = shareRows(project, contributions, 'role');
    expect(rows.map(({ name }) => name)).toEqual(['All that does not speak', 'Music', 'Dialogue', 'Effects']);
    expect(rows[0]).toMatchObject({ over: true, changeLu: null, within: 'music, effects' });
    expect(rows[1]).toMatchObject({ changeLu: -6, clipIds: ['song'], start: 96_000 });
  });

  it('is told by track and by clip; what does not sound is left out', () => {
    expect(shareRows(project, contributions, 'track').map(({ share }) => share)).toEqual([0.7, 0.2, 0.1]);
    const clips = shareRows(project, contributions, 'clip');
    expect(clips.map(({ name, within }) => [name, within])).toEqual([
      ['song', 'Music'],
      ['talk', base.tracks[0]!.name],
    ]);
  });
});

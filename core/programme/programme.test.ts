import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { appendSources, moveClips, trackEnd, placeSource } from './edits/clips';
import { applyGains, changeGain, resetGain } from './edits/gain';
import { declareLayout, removeSources, removeTrack, replaceSources } from './edits/project';
import { setSpeech } from './edits/speech';
import { parseGainEntry } from './gainField';
import { clipKey } from '@/core/signal/clipKey';
import { migrateProject, migrateSteps, ProjectFormatError, SCHEMA_VERSION } from './migrations';
import { dialogueRanges } from './dialogue';
import { programmeFrames, type Clip, type Project } from './model';

describe('a gain field', () => {
  it.each([
    ['-6', { kind: 'set', db: -6 }],
    ['−6,5 dB', { kind: 'set', db: -6.5 }],
    [' 3 ', { kind: 'set', db: 3 }],
    ['+=3', { kind: 'change', db: 3 }],
    ['-=2', { kind: 'change', db: -2 }],
    ['−= 0.1 dB', { kind: 'change', db: -0.1 }],
  ])('%s', (text, expected) => expect(parseGainEntry(text)).toEqual(expected));

  it.each(['', 'loud', '1e3', '49', '-73', '+=', '+=-3', '+=121', '--6', '6 LU', 'Infinity', '0x10'])(
    'refuses “%s” and says what is accepted',
    (text) => {
      const entry = parseGainEntry(text);
      expect(entry).toHaveProperty('error');
      expect((entry as { error: string }).error).toMatch(/dB/);
    },
  );
});

describe('gain edits', () => {
  const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b' }), testClip({ id: 'c' })]);
  const gain = (state: Project, id: string) => state.clips.find((clip) => clip.id === id)!.gain;

  it('total and last change are both kept: +8 then +2 is +10', () => {
    const ids = new Set(['a']);
    const twice = changeGain(changeGain(project, ids, { kind: 'change', db: 8 }), ids, {
      kind: 'change',
      db: 2,
    });
    expect(gain(twice, 'a')).toEqual({ db: 10, lastChangeDb: 2, reason: { kind: 'byHand' } });
    expect(gain(resetGain(twice, ids), 'a')).toEqual({
      db: 0,
      lastChangeDb: -10,
      reason: { kind: 'asRecorded' },
    });
  });

  it('a change keeps the relation of several clips, a value makes them equal', () => {
    const uneven = changeGain(project, new Set(['a']), { kind: 'set', db: 4 });
    const ids = new Set(['a', 'b']);
    expect(changeGain(uneven, ids, { kind: 'change', db: -2 }).clips.map((clip) => clip.gain.db)).toEqual([
      2, -2, 0,
    ]);
    expect(changeGain(uneven, ids, { kind: 'set', db: -2 }).clips.map((clip) => clip.gain.db)).toEqual([
      -2, -2, 0,
    ]);
  });

  it('stays within what a clip can have', () => {
    expect(gain(changeGain(project, new Set(['a']), { kind: 'change', db: 100 }), 'a').db).toBe(48);
    const reason = { kind: 'byHand' } as const;
    expect(gain(applyGains(project, new Map([['b', { db: -200, reason }]])), 'b').db).toBe(-72);
  });
});

describe('placing and moving', () => {
  it('sources are placed end to end, resampled lengths included', () => {
    const placed = appendSources(testProject(), 't0', [
      { clipId: 'x', sourceId: 's0' },
      { clipId: 'y', sourceId: 's2' },
      { clipId: 'z', sourceId: 's3' },
    ]);
    expect(placed.clips.map((clip) => [clip.start, clip.length])).toEqual([
      [0, 192_000],
      [192_000, 192_000],
      [384_000, 192_000],
    ]);
    expect(placed.clips[0]!.name).toBe('source 0');
    expect(trackEnd(placed, 't0')).toBe(programmeFrames(placed));
  });

  it('a part of a source is placed to the frame, within the source', () => {
    const spec = { clipId: 'n', sourceId: 's0', trackId: 't0', start: 10 };
    const part = (from: number, to: number) => {
      const [clip] = placeSource(testProject(), { ...spec, part: { from, to } }).clips;
      return [clip!.start, clip!.sourceStart, clip!.length];
    };
    expect(part(1, 2.5)).toEqual([10, 48_000, 72_000]);
    expect(part(3, 99)).toEqual([10, 144_000, 48_000]);
    expect(part(2, 2)).toEqual([10, 96_000, 1]);
  });

  it('clips go to other tracks as one, and stop where the first of them runs out of tracks', () => {
    const third = { ...testProject().tracks[1]!, id: 't2', name: 'Third' };
    const base = testProject([testClip({ id: 'a' }), testClip({ id: 'b', trackId: 't1' })]);
    const project = { ...base, tracks: [...base.tracks, third] };
    const ids = new Set(['a', 'b']);
    const lanes = (state: Project): string[] => state.clips.map(({ trackId }) => trackId);
    expect(lanes(moveClips(project, ids, 0, { clipId: 'a', trackId: 't1' }))).toEqual(['t1', 't2']);
    expect(lanes(moveClips(project, ids, 0, { clipId: 'a', trackId: 't2' }))).toEqual(['t1', 't2']);
    expect(lanes(moveClips(project, new Set(['a']), 0, { clipId: 'a', trackId: 't2' }))).toEqual([
      't2',
      't1',
    ]);
  });

  it('a group stops where its first clip reaches the start, and keeps its shape', () => {
    fc.assert(
      fc.property(clipsArbitrary, fc.integer({ min: -1_000_000, max: 1_000_000 }), (clips, by) => {
        const before = testProject(clips);
        const after = moveClips(before, new Set(clips.map((clip) => clip.id)), by);
        const shift = after.clips[0]!.start - before.clips[0]!.start;
        after.clips.forEach((clip, i) => expect(clip.start - before.clips[i]!.start).toBe(shift));
        expect(Math.min(...after.clips.map((clip) => clip.start))).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  it('taking out a source or a track takes its clips along', () => {
    const project = testProject([
      testClip({ id: 'a' }),
      testClip({ id: 'b', sourceId: 's1', trackId: 't1' }),
    ]);
    expect(removeSources(project, new Set(['s1'])).clips.map((clip) => clip.id)).toEqual(['a']);
    expect(removeTrack(project, 't0').clips.map((clip) => clip.id)).toEqual(['b']);
  });
});

describe('stored projects', () => {
  it('are brought up step by step', () => {
    const steps = {
      0: (project: Readonly<Record<string, unknown>>) => ({ ...project, name: 'was nameless' }),
      1: (project: Readonly<Record<string, unknown>>) => ({
        ...project,
        name: `${String(project['name'])}, now at 2`,
      }),
    };
    expect(migrateProject({ schema: 0 }, steps, 2)).toMatchObject({
      schema: 2,
      name: 'was nameless, now at 2',
    });
    expect(migrateProject(testProject())).toEqual(testProject());
  });

  it.each([[null], ['text'], [{}], [{ schema: 'one' }], [{ schema: SCHEMA_VERSION + 1 }], [{ schema: -3 }]])(
    '%o is refused',
    (stored) => {
      expect(() => migrateProject(stored)).toThrow(ProjectFormatError);
    },
  );
});

describe('when somebody speaks', () => {
  const spoken = (clips: readonly Clip[], change: Partial<Project> = {}) =>
    dialogueRanges({ ...testProject(clips), ...change });
  const at = (id: string, start: number, seconds: number, more: Partial<Clip> = {}): Clip =>
    testClip({ id, start: start * 48_000, length: seconds * 48_000, ...more });

  it('is where clips lie on spoken tracks', () => {
    const clips = [at('b', 5, 2), at('a', 1, 2), at('c', 6, 3), at('music', 0, 20, { trackId: 't1' })];
    expect(spoken(clips)).toEqual([
      { from: 1, to: 3 },
      { from: 5, to: 9 },
    ]);
  });

  it('is nowhere on a muted track', () => {
    const tracks = testProject().tracks.map((track) => ({ ...track, muted: true }));
    expect(spoken([at('a', 1, 2)], { tracks })).toEqual([]);
  });

  it('is what subtitles say, as far as the clip reaches', () => {
    const speech = {
      from: 'a.srt',
      ranges: [
        { from: 0, to: 1 },
        { from: 2, to: 9 },
      ],
    };
    const sources = testProject().sources.map((source) => ({ ...source, speech }));
    const clip = at('a', 10, 3, { sourceStart: 0.5 * 48_000 });
    expect(spoken([clip], { sources })).toEqual([
      { from: 10, to: 10.5 },
      { from: 11.5, to: 13 },
    ]);
  });
});

describe('sources', () => {
  it('declare their layout and speech, and are replaced by one, those in use staying', () => {
    const project = testProject([testClip({ id: 'a', sourceId: 's1' })]);
    const [first] = project.sources;
    const layout = { ...first!.layout, id: 'dual-mono' };
    expect(declareLayout(project, 's0', layout).sources[0]!.layout.id).toBe('dual-mono');
    expect(setSpeech(project, 's0', { from: 'x.srt', ranges: [] }).sources[0]!.speech!.from).toBe('x.srt');
    const by = { ...first!, id: 'new' };
    const replaced = replaceSources(project, new Set(['s0', 's1']), by).sources.map(({ id }) => id);
    expect(replaced).toEqual(['new', 's1', 's2', 's3']);
  });

  it('of an older version that are put back by a step have the present shape', () => {
    const clip = { id: 'c', start: 5 };
    const steps = [
      {
        name: 'Move',
        redo: [{ op: 'replace', path: ['clips', 0], value: { ...clip, start: 9 } }],
        undo: [
          { op: 'replace', path: ['clips', 0], value: clip },
          { op: 'replace', path: ['clips', 'length'], value: 1 },
          { op: 'replace', path: ['tracks'], value: [{ id: 't' }] },
          { op: 'replace', path: ['name'], value: 'Before' },
        ],
      },
    ];
    const [step] = migrateSteps(steps, 1);
    const added = {
      ...{ trimDb: 0, fadeIn: 0, fadeOut: 0, groupId: null, channelDb: [], balance: 0, passthrough: null },
      ...{ curve: [], setName: null, limiter: null, balanceCurve: [] },
      ...{ fadeInShape: 'equalPower', fadeOutShape: 'equalPower' },
    };
    expect(step!.redo[0]!.value).toEqual({ id: 'c', start: 9, ...added });
    expect(step!.undo.map(({ value }) => value)).toEqual([
      { ...clip, ...added },
      1,
      [{ id: 't', gainDb: 0, linkId: null, shiftDb: 0, curve: [], limiter: null, passthrough: null }],
      'Before',
    ]);
    expect(migrateSteps(steps, SCHEMA_VERSION)).toBe(steps);
  });

  it('of the first version of projects are whole and say nothing of speech', () => {
    const old = {
      schema: 1,
      id: 'p',
      sources: [{ id: 's', name: 'a.wav' }],
      tracks: [{ id: 't', muted: true }],
      clips: [{ id: 'c' }],
    };
    const now = migrateProject(old);
    const track = { gainDb: 0, shiftDb: 0, linkId: null, curve: [], limiter: null, passthrough: null };
    expect(now.tracks[0]).toEqual({ id: 't', muted: true, ...track });
    expect(now.clips[0]).toEqual({
      id: 'c',
      trimDb: 0,
      fadeIn: 0,
      fadeOut: 0,
      groupId: null,
      channelDb: [],
      balance: 0,
      balanceCurve: [],
      fadeInShape: 'equalPower',
      fadeOutShape: 'equalPower',
      limiter: null,
      passthrough: null,
      curve: [],
      setName: null,
    });
    expect(now).toMatchObject({ groups: [], markers: [], monoLaw: 'constantPower' });
    expect(now.sources[0]).toEqual({
      id: 's',
      name: 'a.wav',
      partial: false,
      speech: null,
      trimDb: 0,
      timeReference: null,
      folder: '',
    });
  });

  it('names what gains were worked out for station by station, as clips are named now', () => {
    const stored = (clip: Clip, full: boolean, row: string) => {
      const reason = {
        kind: 'levelled',
        measure: 'integrated',
        mode: 'each',
        goal: -23,
        stoppedByCeiling: false,
      };
      const project: Project = { ...testProject([clip]), ...(full && { monoLaw: 'full' }) };
      const gain = { db: 1, lastChangeDb: 1, reason: { ...reason, of: row } } as const;
      const read = migrateProject({ ...project, schema: 5, clips: [{ ...clip, gain }] });
      return [read.clips[0]!.gain.reason, clipKey(project, project.clips[0]!)] as const;
    };
    const curve = [
      { at: 5, db: 0 },
      { at: 99.5, db: -120 },
    ];
    const cases = [
      [testClip({ id: 'a' }), false, 'audio-0/mono/0/192000/48000/stereo/0/0'],
      [testClip({ id: 'a', fadeIn: 10 }), true, 'audio-0/mono/0/192000/48000/stereo/10/0/full'],
      [testClip({ id: 'a', balance: -0.5 }), false, 'audio-0/mono/0/192000/48000/stereo/0/0//-0.5'],
      [
        testClip({ id: 'a', sourceId: 's1', channelDb: [0, -3.5], curve, sourceStart: 7 }),
        true,
        'audio-1/stereo/7/192000/48000/stereo/0/0/0,-3.5/0/full/5:0,99.5:-120',
      ],
      [testClip({ id: 'a', curve }), false, 'audio-0/mono/0/192000/48000/stereo/0/0/5:0,99.5:-120'],
    ] as const;
    for (const [clip, full, row] of cases) {
      const [reason, key] = stored(clip, full, row);
      expect(reason).toMatchObject({ kind: 'levelled', of: key });
    }
  });
});

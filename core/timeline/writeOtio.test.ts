import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { totalDbOf } from '@/core/programme/clipGain';
import { changeLevel, groupClips } from '@/core/programme/edits/groups';
import { setTrackGain } from '@/core/programme/edits/levels';
import { movePoints } from '@/core/programme/edits/points';
import { simplified } from '@/core/programme/curve';
import { applyCurves, curveReasonOf, type WorkedCurve } from '@/core/programme/curveReason';
import { clipEnd, type Clip, type Project } from '@/core/programme/model';
import { duckedFor, evenedFor, isCurveStale } from '@/core/proposals/curveFor';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { readOtio } from './otio';
import { matchMedia } from './matchMedia';
import { placeCut } from './toProject';
import { writeOtio } from './writeOtio';

/** Written, read again, and placed among the same sources. */
function roundTrip(project: Project): Project {
  const cut = readOtio(writeOtio(project));
  const files = project.sources.map((source) => ({ path: source.name, sound: source, content: source.id }));
  const { found } = matchMedia(cut, files);
  const media = new Map([...found].map(([key, index]) => [key, project.sources[index]!]));
  let made = 0;
  const placed = placeCut({ ...project, clips: [], tracks: [] }, cut, media, () => `n${++made}`);
  expect(placed.missing).toEqual([]);
  return placed.project;
}

/** What sounds, whatever track it stands on. */
const sounding = (project: Project) => {
  const totalDb = totalDbOf(project);
  const what = (clip: Clip) => ({
    source: clip.sourceId,
    start: clip.start,
    length: clip.length,
    sourceStart: clip.sourceStart,
    fadeIn: clip.fadeIn,
    fadeOut: clip.fadeOut,
    curve: simplified(clip.curve),
    db: Math.round(totalDb(clip) * 1e6) / 1e6,
    fadeInShape: clip.fadeIn > 0 ? clip.fadeInShape : 'equalPower',
    fadeOutShape: clip.fadeOut > 0 ? clip.fadeOutShape : 'equalPower',
    balance: clip.balance,
    channelDb: clip.channelDb,
    balanceCurve: clip.balanceCurve,
  });
  const order = (a: ReturnType<typeof what>, b: ReturnType<typeof what>): number =>
    JSON.stringify(a).localeCompare(JSON.stringify(b));
  return project.clips.map(what).sort(order);
};

describe('a programme written as OpenTimelineIO', () => {
  it('comes back as it sounds, however its clips lie and fade', () => {
    fc.assert(
      fc.property(clipsArbitrary, fc.integer({ min: -12, max: 6 }), (clips, db) => {
        const project = setTrackGain(testProject(clips), 't1', db);
        expect(sounding(roundTrip(project))).toEqual(sounding(project));
      }),
    );
  });

  it('carries what lies on clips, tracks and the programme besides their gain', () => {
    const limiter = {
      ...{ name: 'Speech', ceilingDbtp: -3, inputDb: 2, lookAheadMs: 4, releaseMs: null },
      ...{ lfeApart: true, bypassed: false },
    };
    const clip = testClip({ id: 'a', limiter, balance: 0.3, channelDb: [-2, 0], sourceId: 's1' });
    const base = testProject([clip]);
    const curve = [
      { at: 4_800, db: 0, shape: 'ease' as const },
      { at: 96_000, db: -6 },
    ];
    const tracks = base.tracks.map((track) =>
      track.id === 't0' ? { ...track, gainDb: -5, curve, limiter } : track,
    );
    const back = roundTrip({ ...base, tracks, curve, limiter: { ...limiter, bypassed: true } });
    // The track's gain came with the clip's, so the clip's limiter stands in front of it no more.
    expect(back.clips[0]).toMatchObject({ balance: 0.3, channelDb: [-2, 0], gain: { db: -5 } });
    expect(back.clips[0]!.limiter).toEqual({ ...limiter, ceilingDbtp: -8 });
    expect(back.tracks[0]).toMatchObject({ gainDb: 0, curve, limiter });
    expect(back).toMatchObject({ curve, limiter: { ...limiter, bypassed: true } });
    // Beside clips that are there already, what was on its whole programme is told, not taken over.
    const cut = readOtio(writeOtio({ ...base, curve }));
    const placed = placeCut(base, cut, new Map(), () => 'n');
    expect(placed.project.curve).toEqual([]);
    expect(placed.warnings.join()).toContain('on its whole programme is not taken over');
    // What makes no sense is as usual.
    const odd = readOtio(writeOtio({ ...base, tracks }).replaceAll('"lookAheadMs": 4', '"lookAheadMs": 4e9'));
    expect(odd.tracks[0]!.bus!.limiter).toBeNull();
    expect(odd.tracks[0]!.clips[0]!.sound).toEqual({});
  });

  it('keeps muted tracks, as not enabled', () => {
    const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b', trackId: 't1' })]);
    const tracks = project.tracks.map((track) => ({ ...track, muted: track.id === 't1' }));
    const back = roundTrip({ ...project, tracks });
    expect(back.tracks.map(({ name, muted }) => [name, muted])).toEqual([
      ['Dialogue', false],
      ['Music', true],
    ]);
    expect(back.clips).toHaveLength(2);
  });

  it('keeps crossfades in one row: each plays on under the next', () => {
    const a = testClip({ id: 'a', length: 96_000, fadeOut: 9_601 });
    const b = testClip({
      id: 'b',
      sourceId: 's1',
      start: 86_399,
      length: 96_000,
      fadeIn: 9_601,
      fadeOut: 500,
    });
    const c = testClip({ id: 'c', start: clipEnd(b) - 500, length: 48_000, fadeIn: 500, fadeOut: 4_800 });
    const project = testProject([a, b, c]);
    const back = roundTrip(project);
    expect(sounding(back)).toEqual(sounding(project));
    expect(new Set(back.clips.map(({ trackId }) => trackId)).size).toBe(1);
  });

  it('writes the gain each clip sounds with, groups and tracks together', () => {
    const ids = new Set(['a', 'b']);
    const project = testProject([testClip({ id: 'a' }), testClip({ id: 'b', start: 300_000, trimDb: 2 })]);
    const grouped = changeLevel(groupClips(project, ids, 'g', 'Pair'), ids, { kind: 'set', db: -4 });
    const back = roundTrip(setTrackGain(grouped, 't0', 1));
    expect(back.clips.map(({ gain }) => gain.db)).toEqual([-3, -1]);
  });

  it('carries the roles of tracks, and how gains came about', () => {
    const told = {
      kind: 'levelled',
      measure: 'integrated',
      mode: 'plan',
      goal: -41,
      stoppedByCeiling: true,
    } as const;
    const reason = { ...told, of: 'key', measured: -30, besidesDb: 2 };
    const project = testProject([
      testClip({ id: 'a', trackId: 't1', gain: { db: -3, lastChangeDb: -3, reason } }),
      testClip({ id: 'b', start: 300_000, gain: { db: 1, lastChangeDb: 1, reason: { kind: 'byHand' } } }),
      testClip({ id: 'c', start: 600_000, gain: { db: 0, lastChangeDb: 0, reason } }),
    ]);
    const back = roundTrip(project);
    const gains = new Map(back.clips.map(({ name, gain }) => [name, gain.reason]));
    expect(gains.get('a')).toEqual({ ...told, besidesDb: 0 });
    expect(gains.get('b')).toEqual({ kind: 'byHand' });
    expect(gains.get('c')).toEqual({ ...told, besidesDb: 0 });
    expect(back.tracks.map(({ role }) => role)).toEqual(['dialogue', 'music']);
    // A role that was changed since is the one that is written.
    const changed = {
      ...back,
      tracks: back.tracks.map((track) => ({ ...track, role: 'dialogue' as const })),
    };
    expect(roundTrip(changed).tracks.map(({ role }) => role)).toEqual(['dialogue', 'dialogue']);
    // What makes no sense is no reason.
    const odd = writeOtio(project).replaceAll('"levelled"', '"dreamt"');
    expect(readOtio(odd).tracks[1]!.clips[0]!.reason).toBeNull();
  });

  it('carries how gain curves came about: what was worked out is not by hand once it is read', () => {
    const curve = [
      { at: 10_000, db: 0 },
      { at: 20_000, db: -9 },
    ];
    const plain = testProject([testClip({ id: 'a' }), testClip({ id: 'b', start: 300_000 })]);
    const evened: WorkedCurve = { kind: 'evened', curve, of: evenedFor(plain, plain.clips[0]!) };
    const ducked: WorkedCurve = { kind: 'ducked', curve, of: duckedFor(plain, plain.clips[1]!, false) };
    const project = applyCurves(
      plain,
      new Map([
        ['a', evened],
        ['b', ducked],
      ]),
    );
    const back = roundTrip(project);
    expect(back.clips.map((clip) => curveReasonOf(clip)?.kind)).toEqual(['evened', 'ducked']);
    expect(back.clips.map((clip) => isCurveStale(back, clip))).toEqual([false, false]);
    // Moved by a hand it is by hand, and so it is written.
    const moved = movePoints(project, { kind: 'clip', id: 'a' }, new Set([20_000]), { frames: 0, db: 1 });
    expect(roundTrip(moved).clips.map((clip) => curveReasonOf(clip)?.kind ?? null)).toEqual([null, 'ducked']);
    const odd = writeOtio(project).replaceAll('"evened"', '"dreamt"');
    expect(readOtio(odd).tracks[0]!.clips[0]!.sound).toEqual({});
  });

  it('gives back what a cut said that is of no use here: picture, markers, effects, what is not known', () => {
    const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: 24 });
    const range = (start: number, length: number) => ({
      OTIO_SCHEMA: 'TimeRange.1',
      start_time: time(start),
      duration: time(length),
    });
    const clip = {
      OTIO_SCHEMA: 'Clip.2',
      name: 'hut',
      source_range: range(110, 24),
      media_references: {
        DEFAULT_MEDIA: {
          OTIO_SCHEMA: 'ExternalReference.1',
          target_url: 'file:///media/source%200.wav',
          available_range: range(100, 96),
          metadata: { reel: 'B12' },
        },
      },
      active_media_reference_key: 'DEFAULT_MEDIA',
      metadata: { scene: 4 },
      markers: [{ OTIO_SCHEMA: 'Marker.2', name: 'look' }],
      effects: [
        { OTIO_SCHEMA: 'Effect.1', effect_name: 'Gain', metadata: { gain_db: -3 } },
        { OTIO_SCHEMA: 'Effect.1', effect_name: 'Room', metadata: { size: 2 } },
      ],
    };
    const picture = { OTIO_SCHEMA: 'Track.1', kind: 'Video', name: 'V1', children: [] };
    const odd = { OTIO_SCHEMA: 'Wormhole.3', depth: 7 };
    const original = {
      OTIO_SCHEMA: 'Timeline.1',
      name: 'Reel',
      metadata: { show: 'Frostline' },
      global_start_time: time(86_400),
      tracks: {
        OTIO_SCHEMA: 'Stack.1',
        metadata: { colour: 'blue' },
        children: [
          picture,
          { OTIO_SCHEMA: 'Track.1', kind: 'Audio', name: 'A1', metadata: { bus: 1 }, children: [clip, odd] },
        ],
      },
    };
    const cut = readOtio(JSON.stringify(original));
    const project = testProject();
    const { project: placed } = placeCut(
      { ...project, tracks: [] },
      cut,
      new Map([['file:///media/source%200.wav', project.sources[0]!]]),
      () => 'n',
    );
    const louder = {
      ...placed,
      clips: placed.clips.map((one) => ({ ...one, gain: { ...one.gain, db: -7 } })),
    };
    const written = JSON.parse(writeOtio(louder));
    expect(written).toMatchObject({
      metadata: original.metadata,
      global_start_time: original.global_start_time,
    });
    expect(written.tracks.metadata).toEqual({ colour: 'blue' });
    expect(written.tracks.children[0]).toEqual(picture);
    const [, sound] = written.tracks.children;
    expect(sound.metadata).toEqual({ bus: 1, dengung_left_out: [odd] });
    const [back] = sound.children;
    expect(back).toMatchObject({
      metadata: clip.metadata,
      markers: clip.markers,
      media_references: clip.media_references,
    });
    expect(back.effects).toEqual([
      clip.effects[1],
      { OTIO_SCHEMA: 'Effect.1', name: '', effect_name: 'Gain', metadata: { gain_db: -7 } },
    ]);
    const { value, rate } = back.source_range.start_time;
    expect(value / rate).toBeCloseTo(110 / 24, 6);
  });
});

import fc from 'fast-check';
import { parse } from 'subsrt-ts';
import { describe, expect, it } from 'vitest';
import { totalDbOf } from '@/core/programme/clipGain';
import { addMarker } from '@/core/programme/edits/markers';
import { setTrackGain } from '@/core/programme/edits/levels';
import { curveDbAt, curveOf } from '@/core/programme/curve';
import { clipEnd, type Clip, type Project } from '@/core/programme/model';
import { FRAME_RATES, timecodeSeconds } from '@/core/text/timecode';
import { clipsArbitrary, testClip, testProject } from '@/core/testing/projects';
import { edlCannotSay, otioCannotSay } from './cannotSay';
import { compareCut, type ComparedCut } from './compareCut';
import { cueTable, cuesAsVtt, cuesOfMarkers, type Cue } from './cues';
import type { Cut } from './cut';
import { readEdl } from './edl';
import { gainTable } from './gainTable';
import { matchMedia } from './matchMedia';
import { readOtio } from './otio';
import { placeCut } from './toProject';
import { writeEdl } from './writeEdl';
import { writeOtio } from './writeOtio';

const PER_SECOND = 25;
const PICTURE = FRAME_RATES.find(({ id }) => id === '25')!;
const SAMPLES = 48_000 / PER_SECOND;

/** A clip with its edges and fades on frames of picture, half a second long at least. */
function onFrames(clip: Clip): Clip {
  const at = (frames: number): number => Math.round(frames / SAMPLES) * SAMPLES;
  const length = Math.max(12 * SAMPLES, at(clip.length));
  const fadeIn = Math.min(at(clip.fadeIn), 4 * SAMPLES);
  const fadeOut = Math.min(at(clip.fadeOut), 4 * SAMPLES);
  return { ...clip, start: at(clip.start), sourceStart: 0, length, fadeIn, fadeOut };
}

function mediaOf(project: Project, cut: Cut) {
  const files = project.sources.map((source) => ({ path: source.name, sound: source, content: source.id }));
  const { found } = matchMedia(cut, files);
  return new Map([...found].map(([key, index]) => [key, project.sources[index]!]));
}

function placedAgain(project: Project, cut: Cut): Project {
  let made = 0;
  const empty = { ...project, clips: [], tracks: [], markers: [] };
  return placeCut(empty, cut, mediaOf(project, cut), () => `n${++made}`).project;
}

const sounding = (project: Project) => {
  const totalDb = totalDbOf(project);
  return project.clips
    .map((clip) => [
      ...[clip.sourceId, clip.start, clip.length, clip.sourceStart, clip.fadeIn, clip.fadeOut],
      Math.round(totalDb(clip) * 100) / 100 + 0,
    ])
    .sort((a, b) => JSON.stringify(a).localeCompare(JSON.stringify(b)));
};

/** A programme that lies on frames of picture and begins at its first, as lists count from their first event. */
const programmes = fc.tuple(clipsArbitrary, fc.integer({ min: -12, max: 6 })).map(([clips, db]) => {
  const all = clips.map((clip) => ({ ...onFrames(clip), curve: [], groupId: null }));
  const first = Math.min(...all.map(({ start }) => start), Infinity);
  return setTrackGain(testProject(all.map((clip) => ({ ...clip, start: clip.start - first }))), 't1', db);
});

describe('an edit decision list', () => {
  it('comes back as it sounds: places, fades, crossfades and gains', () => {
    fc.assert(
      fc.property(programmes, (project) => {
        if (project.clips.length === 0) return;
        const { text, tooShort, moved } = writeEdl(project, PICTURE);
        expect([tooShort, moved]).toEqual([[], 0]);
        expect(sounding(placedAgain(project, readEdl(text, PICTURE)))).toEqual(sounding(project));
      }),
    );
  });

  it('tells gain over time point for point, from where the clip lies', () => {
    const curve = curveOf([
      { at: 48_000, db: 0 },
      { at: 96_000, db: -6 },
    ]);
    const clip = testClip({ id: 'a', start: 0, sourceStart: 23_040, length: 96_000, curve });
    const project = testProject([clip]);
    const { text } = writeEdl(project, PICTURE);
    // It begins 12 frames of picture into its source: the point at one second of that lies 13 frames in.
    expect(text).toContain('* GAIN AT 00:00:00:13: +0.00 DB');
    const [back] = placedAgain(project, readEdl(text, PICTURE)).clips;
    for (const at of [24_000, 60_000, 96_000, 120_000])
      expect(Math.abs(curveDbAt(back!.curve, at) - curveDbAt(curve, at))).toBeLessThan(0.3);
  });

  it('counts source and record timecode as files and programme do', () => {
    const base = testProject([testClip({ id: 'a', start: 48_000, sourceStart: 96_000, length: 48_000 })]);
    const sources = base.sources.map((source) => ({ ...source, timeReference: source.sampleRate * 3600 }));
    const project = { ...base, sources, time: { frameRateId: '25', startSeconds: 36_000 } };
    const { text } = writeEdl(project, PICTURE);
    expect(text).toContain('01:00:02:00 01:00:03:00 10:00:01:00 10:00:02:00');
    expect(timecodeSeconds('10:00:01:00', PICTURE)).toBe(36_001);
  });

  it('says what it leaves out, and what had to move', () => {
    const project = {
      ...testProject([
        testClip({ id: 'Wind', start: 100, length: 9_000, balance: 0.5 }),
        testClip({ id: 'Blip', start: 96_000, length: 20 }),
        testClip({ id: 'Song', trackId: 't1' }),
      ]),
    };
    const tracks = project.tracks.map((track) => ({ ...track, muted: track.id === 't1' }));
    const muted = { ...project, tracks, markers: [{ id: 'm', at: 0, name: 'Start' }] };
    const list = writeEdl(muted, PICTURE);
    expect(list).toMatchObject({ tooShort: ['Blip'], events: 1, channels: 1 });
    const said = edlCannotSay(muted, list).join(' ');
    for (const part of ['balance (Wind)', 'muted: Music', 'Blip', 'Markers', 'moved to the nearest'])
      expect(said).toContain(part);
    expect(otioCannotSay(muted).join(' ')).toContain('Wind: balance');
    expect(otioCannotSay(testProject([testClip({ id: 'a' })]))).toEqual([]);
  });
});

describe('markers', () => {
  const marked = addMarker(
    addMarker(testProject([testClip({ id: 'a' })]), { id: 'm1', at: 72_000, name: 'Part 2' }),
    { id: 'm2', at: 0, name: 'Start' },
  );

  it('go into the timeline and come back, with what their own file said of them', () => {
    const said = JSON.parse(writeOtio(marked)) as { tracks: { markers: Record<string, unknown>[] } };
    said.tracks.markers[0]!['comment'] = 'of the edit';
    const placed = placedAgain(marked, readOtio(JSON.stringify(said)));
    expect(placed.markers.map(({ at, name }) => [at, name])).toEqual([
      [0, 'Start'],
      [72_000, 'Part 2'],
    ]);
    expect(writeOtio(placed)).toContain('of the edit');
    // Read again they are the same, not two of each.
    expect(placedAgain(placed, readOtio(writeOtio(placed))).markers).toHaveLength(2);
  });

  it('are cues that another reader takes, whatever they are called', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(9_000_000), fc.nat(480_000), fc.string())), (all) => {
        const cues: Cue[] = all.map(([from, length, name]) => ({
          ...{ from, to: from + length, name: `x${name}`, comment: 'what is there' },
        }));
        const read = parse(cuesAsVtt(marked, cues), { format: 'vtt' }).filter(
          ({ type }) => type === 'caption',
        );
        expect(read).toHaveLength(cues.length);
        const starts = cues.map(({ from }) => Math.round(from / 48)).sort((a, b) => a - b);
        expect(read.map((cue) => (cue as { start: number }).start)).toEqual(starts);
      }),
    );
    const table = cueTable(marked, cuesOfMarkers(marked));
    expect(table[2]).toEqual(['0:01.500', '0:01.500', 1.5, 1.5, 'Part 2', '']);
  });
});

describe('a table of gains', () => {
  it('has a row for every clip, whose parts add up to what it sounds with', () => {
    fc.assert(
      fc.property(programmes, (project) => {
        const [heads, ...rows] = gainTable(project);
        expect(rows).toHaveLength(project.clips.length);
        const column = (name: string): number => heads!.indexOf(name);
        for (const row of rows) {
          const parts = ['gainDb', 'trimDb', 'trackAndGroupsDb'].map((name) => row[column(name)] as number);
          expect(row[column('inAllDb')]).toBeCloseTo(
            parts.reduce((a, b) => a + b, 0),
            2,
          );
        }
      }),
    );
  });
});

/** A cut as the edit would send it after a change of the programme. */
function backFrom(project: Project, change: (clips: readonly Clip[]) => readonly Clip[]): ComparedCut {
  let made = 0;
  const cut = readOtio(writeOtio({ ...project, clips: change(project.clips) }));
  return compareCut(project, cut, mediaOf(project, cut), () => `n${++made}`);
}

describe('a cut that comes back', () => {
  const levelled = (id: string, change: Partial<Clip> = {}): Clip =>
    testClip({
      ...{ id, gain: { db: -4, lastChangeDb: -4, reason: { kind: 'byHand' } }, length: 48_000 },
      ...{ limiter: null, setName: 'set', balance: 0.25 },
      ...change,
    });
  const here = testProject([
    levelled('a'),
    levelled('b', { start: 96_000, sourceStart: 48_000, sourceId: 's1' }),
    levelled('c', { start: 192_000, sourceId: 's1', trackId: 't1' }),
  ]);

  it('unchanged, changes nothing: every clip is the very same', () => {
    fc.assert(
      fc.property(programmes, (project) => {
        if (project.clips.length === 0) return;
        // Clips that share source and place are told apart by nothing.
        const distinct = new Map(project.clips.map((clip) => [`${clip.sourceId} ${clip.start}`, clip]));
        const own = { ...project, clips: [...distinct.values()] };
        const { counts, project: after } = backFrom(own, (clips) => clips);
        expect(counts).toEqual({ same: own.clips.length, moved: 0, trimmed: 0, new: 0, gone: 0 });
        expect(new Set(after.clips)).toEqual(new Set(own.clips));
        expect(after.tracks).toEqual(own.tracks);
      }),
    );
  });

  it('tells what was moved, trimmed, taken away and added, and keeps what was done here', () => {
    const compared = backFrom(here, ([a, b]) => [
      { ...a!, start: 24_000 },
      { ...b!, sourceStart: 60_000, start: 108_000, length: 24_000 },
      testClip({ id: 'new', sourceId: 's2', start: 400_000, length: 4_800 }),
    ]);
    expect(compared.counts).toEqual({ same: 0, moved: 1, trimmed: 1, new: 1, gone: 1 });
    const after = new Map(compared.project.clips.map((clip) => [clip.id, clip]));
    expect(after.get('a')).toEqual({ ...here.clips[0]!, start: 24_000, passthrough: expect.anything() });
    expect(after.get('b')).toMatchObject({
      start: 108_000,
      length: 24_000,
      setName: 'set',
      gain: { db: -4 },
    });
    expect(after.has('c')).toBe(false);
    expect(compared.clips.find(({ fate }) => fate === 'new')!.after).toMatchObject({ gain: { db: 0 } });
  });

  it('knows both parts of a clip that was cut in two', () => {
    const { counts, project } = backFrom(here, ([a, ...rest]) => [
      { ...a!, length: 20_000 },
      { ...a!, id: 'second', start: 500_000, sourceStart: 20_000, length: clipEnd(a!) - 20_000 },
      ...rest,
    ]);
    expect(counts).toEqual({ same: 2, moved: 0, trimmed: 2, new: 0, gone: 0 });
    expect(new Set(project.clips.map(({ id }) => id)).size).toBe(4);
    for (const clip of project.clips) expect(clip.gain.db).toBe(-4);
  });

  it('counted in frames of picture, is the same where it was only rounded, and moved by a single frame', () => {
    const odd = testProject([
      levelled('a', { start: 0, length: 100_000 }),
      levelled('b', { start: 192_700, sourceId: 's1', length: 50_001 }),
    ]);
    const list = (project: Project): ComparedCut => {
      const cut = readEdl(writeEdl(project, PICTURE).text, PICTURE);
      return compareCut(odd, cut, mediaOf(odd, cut), () => 'n');
    };
    expect(list(odd).counts).toMatchObject({ same: 2 });
    const later = odd.clips.map((clip) => (clip.id === 'a' ? clip : { ...clip, start: clip.start + 1_920 }));
    expect(list({ ...odd, clips: later }).counts).toMatchObject({ same: 1, moved: 1 });
    // Counted from its first event, which lies ten seconds into the programme, it is put back there by its timecode.
    const far = odd.clips.map((clip) => ({ ...clip, start: clip.start + 480_000 }));
    const hour = { ...odd, clips: far, time: { frameRateId: '25', startSeconds: 3_600 } };
    const cut = readEdl(writeEdl(hour, PICTURE).text, PICTURE);
    expect(compareCut(hour, cut, mediaOf(hour, cut), () => 'n').counts).toMatchObject({ same: 2 });
  });

  it('says where it has another gain, and keeps the one here', () => {
    const { clips } = backFrom(here, (all) =>
      all.map((clip) => ({ ...clip, gain: { ...clip.gain, db: clip.id === 'a' ? -9 : -4 } })),
    );
    expect(clips.map(({ toldDb }) => toldDb)).toEqual([-9, null, null]);
    expect(clips[0]!.after!.gain.db).toBe(-4);
  });
});

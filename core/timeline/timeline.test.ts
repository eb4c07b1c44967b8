import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { testProject } from '@/core/testing/projects';
import { clipEnd, type Source } from '@/core/programme/model';
import { mediaKey, CutError, type Cut } from './cut';
import { readEdl } from './edl';
import { readOtio } from './otio';
import {
  FRAME_RATES,
  timecodeFrames,
  timecodeOf,
  timecodeSeconds,
  type FrameRate,
} from '@/core/text/timecode';
import { matchMedia } from './matchMedia';
import { placeCut } from './toProject';

const rate = (id: string): FrameRate => FRAME_RATES.find((candidate) => candidate.id === id)!;

describe('timecode', () => {
  it('goes to frames and back at every rate, each number once and in order', () => {
    fc.assert(
      fc.property(fc.constantFrom(...FRAME_RATES), fc.nat(3_000_000), (frameRate, frame) => {
        const text = timecodeOf(frame, frameRate);
        expect(timecodeFrames(text, frameRate)).toBe(frame);
        expect(timecodeOf(frame + 1, frameRate) > text).toBe(true);
      }),
    );
  });

  it('with left-out numbers keeps step with the clock', () => {
    for (const id of ['29.97df', '59.94df']) {
      expect(timecodeSeconds('01:00:00;00', rate(id))!).toBeCloseTo(3600, 2);
      expect(timecodeFrames('00:01:00;00', rate(id))).toBeNull();
      expect(timecodeFrames('00:10:00;00', rate(id))).toBe(
        rate(id).nominal * 600 - (rate(id).nominal / 15) * 9,
      );
    }
    expect(timecodeSeconds('01:00:00:00', rate('29.97'))!).toBeCloseTo(3603.6, 6);
  });

  it.each(['', '1:2', '00:61:00:00', '00:00:00:25', '00:00:60:00', 'aa:bb:cc:dd'])('refuses “%s”', (text) =>
    expect(timecodeFrames(text, rate('25'))).toBeNull(),
  );
});

const time = (value: number, per = 24) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate: per });
const range = (start: number, length: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(length),
});
const clip = (name: string, start: number, length: number, more: object = {}) => ({
  OTIO_SCHEMA: 'Clip.2',
  name,
  source_range: range(start, length),
  media_references: {
    DEFAULT_MEDIA: {
      OTIO_SCHEMA: 'ExternalReference.1',
      target_url: `file:///media/${encodeURIComponent(name)}.wav`,
      available_range: range(0, 240),
    },
  },
  active_media_reference_key: 'DEFAULT_MEDIA',
  ...more,
});
const gap = (length: number) => ({ OTIO_SCHEMA: 'Gap.1', source_range: range(0, length) });
const track = (children: object[], more: object = {}) => ({
  OTIO_SCHEMA: 'Track.1',
  name: 'Voices',
  kind: 'Audio',
  children,
  ...more,
});
/** A gain effect with points of its own. */
const gainOver = (points: unknown) => ({
  OTIO_SCHEMA: 'Effect.1',
  effect_name: 'Gain',
  metadata: { gain_db: 0, dengung_points: points },
});
const timeline = (...tracks: object[]) =>
  JSON.stringify({
    OTIO_SCHEMA: 'Timeline.1',
    name: 'Frostline reel 2',
    tracks: { OTIO_SCHEMA: 'Stack.1', children: tracks },
  });

describe('an OpenTimelineIO file', () => {
  it('gives clips one after the other, gaps between them, and the gain of effects', () => {
    const cut = readOtio(
      timeline(
        track([
          clip('hut', 48, 24, {
            effects: [{ OTIO_SCHEMA: 'Effect.1', effect_name: 'Gain', metadata: { gain_db: -3 } }],
          }),
          gap(12),
          clip('snow & wind', 0, 48, {
            effects: [
              { OTIO_SCHEMA: 'Effect.1', effect_name: 'volume', metadata: { gain: 0.5 } },
              { OTIO_SCHEMA: 'LinearTimeWarp.1', effect_name: 'Warp' },
            ],
          }),
        ]),
        track([clip('picture', 0, 24)], { kind: 'Video' }),
      ),
    );
    expect(cut.name).toBe('Frostline reel 2');
    expect(cut.tracks).toHaveLength(1);
    const [first, second] = cut.tracks[0]!.clips;
    expect(first).toMatchObject({ start: 0, length: 1, sourceStart: 2, gainDb: -3 });
    expect(second).toMatchObject({ start: 1.5, length: 2, media: { name: 'snow & wind.wav' } });
    expect(second!.gainDb).toBeCloseTo(-6.02, 2);
    expect(cut.warnings.join()).toMatch(/Warp.*not taken over.*Picture is left out/);
  });

  it('takes transitions for crossfades: both play on under each other', () => {
    const transition = { OTIO_SCHEMA: 'Transition.1', in_offset: time(6), out_offset: time(12) };
    const { clips } = readOtio(timeline(track([clip('a', 24, 48), transition, clip('b', 48, 48)])))
      .tracks[0]!;
    expect(clips[0]).toMatchObject({ start: 0, length: 2.5, fadeIn: 0, fadeOut: 0.75 });
    expect(clips[1]).toMatchObject({
      start: 1.75,
      length: 2.25,
      sourceStart: 1.75,
      fadeIn: 0.75,
      fadeOut: 0,
    });
  });

  it('opens nested stacks, cut to what of them is used', () => {
    const nested = {
      OTIO_SCHEMA: 'Stack.1',
      name: 'scene',
      source_range: range(12, 36),
      children: [track([clip('a', 0, 24), clip('b', 0, 48)]), track([gap(24), clip('c', 0, 24)])],
    };
    const { clips } = readOtio(timeline(track([gap(24), nested, clip('d', 0, 24)]))).tracks[0]!;
    expect(clips.map(({ name, start, length, sourceStart }) => [name, start, length, sourceStart])).toEqual([
      ['a', 1, 0.5, 0.5],
      ['b', 1.5, 1, 0],
      ['c', 1.5, 1, 0],
      ['d', 2.5, 1, 0],
    ]);
  });

  it('counts from where the media’s own time begins', () => {
    const media = {
      OTIO_SCHEMA: 'ExternalReference.1',
      target_url: 'x/day.wav',
      available_range: range(86_400, 240),
    };
    const old = {
      OTIO_SCHEMA: 'Clip.1',
      name: 'day',
      source_range: range(86_424, 24),
      media_reference: media,
    };
    expect(readOtio(timeline(track([old]))).tracks[0]!.clips[0]).toMatchObject({ sourceStart: 1 });
  });

  it.each([
    ['not json', 'notACut'],
    ['[]', 'notACut'],
    ['{"a":1}', 'notACut'],
    [timeline(), 'empty'],
    [timeline(track([gap(5)])), 'empty'],
    [timeline(track([clip('a', 0, 24, { source_range: { start_time: {}, duration: {} } })])), 'damaged'],
    [timeline(track([{ OTIO_SCHEMA: 'Clip.2', name: 'a' }])), 'damaged'],
    [timeline(track([clip('a', 0, 24, { effects: [gainOver('loud')] })])), 'damaged'],
    [timeline(track([clip('a', 0, 24, { effects: [gainOver([{ db: 3 }])] })])), 'damaged'],
    [
      timeline(track([clip('a', 0, 24, { effects: [gainOver([{ time: { value: 1, rate: 24 } }])] })])),
      'damaged',
    ],
  ])('that is %s is refused with the reason', (text, code) => {
    let thrown: unknown;
    try {
      readOtio(text);
    } catch (error) {
      thrown = error;
    }
    expect(thrown).toBeInstanceOf(CutError);
    expect((thrown as CutError).code).toBe(code);
    expect((thrown as CutError).hint).toMatch(/\.$/);
  });

  it('nested without end, or of any shape, does no harm', () => {
    let deep: object = clip('a', 0, 24);
    for (let i = 0; i < 60; i++) deep = { OTIO_SCHEMA: 'Stack.1', children: [deep] };
    expect(() => readOtio(timeline(track([deep])))).toThrow(/nested too deeply/);
    const whole = timeline(track([clip('a', 0, 24), gap(2), clip('b', 3, 24)]));
    fc.assert(
      fc.property(
        fc.nat(whole.length - 1),
        fc.constantFrom('', '"', '}', '-1', 'null', 'Clip'),
        (at, text) => {
          try {
            const cut = readOtio(whole.slice(0, at) + text + whole.slice(at + 1));
            for (const { clips } of cut.tracks)
              for (const found of clips) expect(Number.isFinite(found.start + found.length)).toBe(true);
          } catch (error) {
            expect(error).toBeInstanceOf(CutError);
          }
        },
      ),
      { numRuns: 300 },
    );
  });
});

const EDL = `TITLE: FROSTLINE REEL 2
FCM: NON-DROP FRAME

001  HUT01    A     C        00:00:02:00 00:00:04:00 01:00:00:00 01:00:02:00
* FROM CLIP NAME: hut door.wav
002  WIND     A2    C        00:00:00:00 00:00:10:00 01:00:01:00 01:00:11:00
003  HUT01    A     C        00:00:04:00 00:00:04:00 01:00:02:00 01:00:02:00
003  VALLEY   A     D    012 00:00:01:00 00:00:03:00 01:00:02:00 01:00:04:00
* TO CLIP NAME: valley.wav
004  BL       A     C        00:00:00:00 00:00:01:00 01:00:04:00 01:00:05:00
005  TITLE    V     C        00:00:00:00 00:00:01:00 01:00:00:00 01:00:01:00
`;

describe('an edit decision list', () => {
  it('gives events on their tracks, from the first record timecode on, dissolves as fades', () => {
    const cut = readEdl(EDL, rate('25'));
    expect(cut.tracks.map(({ name }) => name)).toEqual(['A1', 'A2']);
    const [a, b] = cut.tracks[0]!.clips;
    expect(a).toMatchObject({ media: { name: 'hut door.wav' }, start: 0, sourceStart: 2, fadeOut: 0.48 });
    expect(a!.length).toBeCloseTo(2.48, 9);
    expect(b).toMatchObject({
      media: { name: 'valley.wav' },
      start: 2,
      length: 2,
      sourceStart: 1,
      fadeIn: 0.48,
    });
    expect(cut.tracks[0]!.clips).toHaveLength(2);
    expect(cut.tracks[1]!.clips[0]).toMatchObject({ name: 'WIND', start: 1, length: 10 });
    expect(cut.warnings).toEqual(['Picture is left out.']);
  });

  it.each([
    ['Dear diary', 'notACut', /not an edit decision list/],
    ['TITLE: X\n001 A A C 00:00:00:00', 'damaged', /Line 2 .* no event/],
    [
      'TITLE: X\n001  R A C 00:00:00:00 00:00:01:30 00:00:00:00 00:00:01:00',
      'damaged',
      /Line 2 .*00:00:01:30/,
    ],
    ['TITLE: X\n001  R A C 00:00:01:00 00:00:00:00 00:00:00:00 00:00:01:00', 'damaged', /ends before/],
    ['TITLE: X', 'empty', /no audio/],
  ])('%s: refused with the line and the reason', (text, code, message) => {
    expect(() => readEdl(text, rate('25'))).toThrow(message);
    expect(() => readEdl(text, rate('25'))).toThrow(CutError);
    try {
      readEdl(text, rate('25'));
    } catch (error) {
      expect((error as CutError).code).toBe(code);
    }
  });
});

describe('a cut as a programme', () => {
  const sources = testProject().sources;
  const media = (index: number, timecode: number | null = null): Source => {
    const source = sources[index]!;
    return { ...source, timeReference: timecode === null ? null : timecode * source.sampleRate };
  };
  let ids = 0;
  /** @param found by the names of media */
  const place = (cut: Cut, found: Map<string, Source>) => {
    const media = cut.tracks.flatMap(({ clips }) => clips.map((clip) => clip.media));
    const byKey = media.flatMap((one) => {
      const source = found.get(one.name);
      return source ? [[mediaKey(one), source] as const] : [];
    });
    return placeCut(testProject(), cut, new Map(byKey), () => `i${ids++}`);
  };

  it('keeps every clip where it was, and says what is missing or too short', () => {
    const text = timeline(track([clip('a', 24, 24), clip('gone', 0, 24), clip('b', 72, 96)]));
    const { project, missing, warnings } = place(
      readOtio(text),
      new Map([
        ['a.wav', media(1)],
        ['b.wav', media(3)],
      ]),
    );
    expect(missing.map(({ name }) => name)).toEqual(['gone.wav']);
    expect(project.clips.map(({ name, start, sourceStart }) => [name, start, sourceStart])).toEqual([
      ['a', 0, 48_000],
      ['b', 96_000, 144_000],
    ]);
    expect(clipEnd(project.clips[1]!)).toBe(96_000 + 48_000);
    expect(warnings.join()).toMatch(/“b” asks for 3\.00 s more than “b\.wav” has/);
  });

  it('takes timecode from where the media says it begins', () => {
    const edl = 'TITLE: X\n001  day A C 10:00:01:00 10:00:03:00 00:00:00:00 00:00:02:00';
    const cut = readEdl(edl, rate('25'));
    const found = new Map([['day', media(1, 36_000)]]);
    const { project } = place(cut, found);
    expect(project.clips[0]).toMatchObject({ sourceStart: 48_000, length: 96_000 });
    const without = place(cut, new Map([['day', media(1)]]));
    expect(without.project.clips).toHaveLength(0);
    expect(without.warnings.join()).toMatch(/lies outside its media/);
  });

  it('finds media by name, with or without its ending', () => {
    const cut = readEdl(EDL, rate('25'));
    const files = ['Hut Door.WAV', 'wind.flac', 'other.wav'].map((path) => ({
      path,
      sound: null,
      content: null,
    }));
    const { found } = matchMedia(cut, files);
    expect([...found]).toEqual([
      ['hut door.wav', 0],
      ['WIND', 1],
    ]);
  });
});

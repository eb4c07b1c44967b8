import { describe, expect, it } from 'vitest';
import { EBU_R128 } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { programmeFaults } from '@/core/programme/damagedSources';
import { acceptCutFaults } from '@/core/programme/edits/check';
import { migrateProject } from '@/core/programme/migrations';
import type { Project, Source } from '@/core/programme/model';
import { testProject } from '@/core/testing/projects';
import { SILENT_DB } from '@/core/programme/curve';
import { FRAME_RATES } from '@/core/text/timecode';
import { timecodeOf } from '@/core/text/timecode';
import { mediaKey, type Cut } from './cut';
import { readEdl } from './edl';
import { readOtio } from './otio';
import { placeCut } from './toProject';
import { writeOtio } from './writeOtio';
import { writeEdl } from './writeEdl';

const RATE_25 = FRAME_RATES.find(({ id }) => id === '25')!;
const time = (value: number, rate = 25) => ({ OTIO_SCHEMA: 'RationalTime.1', value, rate });
const range = (start: number, length: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start),
  duration: time(length),
});
const media = (name: string) => ({
  ...{ OTIO_SCHEMA: 'ExternalReference.1', target_url: `${name}.wav`, available_range: range(0, 250) },
});
const clip = (name: string, more: object = {}) => ({
  ...{ OTIO_SCHEMA: 'Clip.2', name, source_range: range(0, 50) },
  media_references: { DEFAULT_MEDIA: media(name) },
  ...more,
});
const gain = (metadata: object) => ({
  effects: [{ OTIO_SCHEMA: 'Effect.1', effect_name: 'Gain', metadata }],
});
const timeline = (children: readonly object[], more: object = {}, track: object = {}): string =>
  JSON.stringify({
    ...{ OTIO_SCHEMA: 'Timeline.1', name: 'Reel' },
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      children: [{ OTIO_SCHEMA: 'Track.1', kind: 'Audio', name: 'Voices', children, ...track }],
    },
    ...more,
  });

const sourceOf = (name: string): Source => ({
  ...testProject().sources[0]!,
  ...{ id: name, name: `${name}.wav`, audioKey: name, sampleRate: 48_000, frames: 480_000 },
  timeReference: null,
});
/** The cut placed in an empty programme, each medium there. */
function placed(cut: Cut) {
  const keys = cut.tracks.flatMap(({ clips }) => clips.map((one) => mediaKey(one.media)));
  const sources = new Map(keys.map((key) => [key, sourceOf(key.replace('.wav', ''))]));
  const empty = { ...testProject(), clips: [], tracks: [], groups: [], sources: [...sources.values()] };
  const time = { frameRateId: null, startSeconds: 0 };
  let ids = 0;
  return placeCut({ ...empty, time, sampleRate: 48_000 }, cut, sources, () => `n${ids++}`);
}
/** Names of the clips that sound, with the second at which each begins. */
const heard = (text: string): string[] =>
  readOtio(text).tracks.flatMap(({ clips }) => clips.map(({ name, start }) => `${name} ${start}`));

describe('cuts that differ in one field only', () => {
  const [a, b, c] = [clip('a'), clip('b'), clip('c')];
  const off = { enabled: false };

  it('as they are', () => {
    expect(heard(timeline([a, b, c]))).toEqual(['a 0', 'b 2', 'c 4']);
    expect(readOtio(timeline([a, b, c])).faults).toEqual([]);
  });

  it.each([
    ['a clip', [a, clip('b', off), c], ['a 0', 'c 4']],
    ['a stack of clips', [a, { OTIO_SCHEMA: 'Stack.1', children: [b], ...off }, c], ['a 0', 'c 4']],
    [
      'a track in a stack',
      [
        a,
        {
          OTIO_SCHEMA: 'Stack.1',
          children: [
            { OTIO_SCHEMA: 'Track.1', kind: 'Audio', children: [b], ...off },
            { OTIO_SCHEMA: 'Track.1', kind: 'Audio', children: [clip('d')] },
          ],
        },
        c,
      ],
      ['a 0', 'd 2', 'c 4'],
    ],
  ])('%s that is disabled is not heard, takes its time, and is named', (_, children, expected) => {
    const text = timeline(children);
    expect(heard(text)).toEqual(expected);
    const { faults, warnings } = readOtio(text);
    expect(faults).toEqual([
      { kind: 'leftOut', sentence: '1 clip is disabled in the cut and left out: “b”.' },
    ]);
    expect(warnings).toEqual([faults[0]!.sentence]);
  });

  it('a gap that is disabled is a gap', () =>
    expect(heard(timeline([a, { OTIO_SCHEMA: 'Gap.1', source_range: range(0, 25), ...off }, c]))).toEqual([
      'a 0',
      'c 3',
    ]));

  it('a track that is disabled is muted', () =>
    expect(placed(readOtio(timeline([a], {}, off))).project.tracks[0]!.muted).toBe(true));

  it('a timeline that is disabled as a whole is refused', () =>
    expect(() => readOtio(JSON.stringify({ OTIO_SCHEMA: 'Stack.1', children: [], ...off }))).toThrow(
      /disabled/,
    ));

  it('a clip plays the media that is in use', () => {
    const media_references = { DEFAULT_MEDIA: media('a'), proxy: media('small') };
    const text = timeline([clip('a', { media_references, active_media_reference_key: 'proxy' })]);
    expect(readOtio(text).tracks[0]!.clips[0]!.media.name).toBe('small.wav');
  });

  it('a gain factor of 0 is silence', () => {
    const { project } = placed(readOtio(timeline([clip('a', gain({ gain: 0 }))])));
    expect(project.clips[0]!.curve.map(({ db }) => db)).toEqual([SILENT_DB]);
  });

  it('an effect that cannot be taken over makes it another programme, one that is disabled does not', () => {
    const effect = { OTIO_SCHEMA: 'LinearTimeWarp.1', effect_name: 'Warp' };
    const faultsWith = (more: object) =>
      readOtio(timeline([clip('a', { effects: [{ ...effect, ...more }] })])).faults;
    expect(faultsWith({}).map(({ kind }) => kind)).toEqual(['altered']);
    expect(faultsWith(off)).toEqual([]);
  });

  it('numbers that are none are as good as left out', () => {
    const text = timeline([clip('a', { metadata: { level: 'NaN', other: 12345 } })]).replace('12345', 'NaN');
    expect(heard(text)).toEqual(['a 0']);
    const bad = timeline([clip('a')]).replace('"value":50', '"value":NaN');
    expect(() => readOtio(bad)).toThrow(/length of “a” is no time/);
  });

  it('its start time is where the programme begins, and is written back', () => {
    const cut = readOtio(timeline([a], { global_start_time: time(25 * 3600) }));
    expect([cut.beginsAt, cut.frameRateId]).toEqual([3600, '25']);
    const { project } = placed(cut);
    expect(project.time).toEqual({ startSeconds: 3600, frameRateId: '25' });
    expect(readOtio(writeOtio(project)).beginsAt).toBeCloseTo(3600, 6);
    // Where no cut has said it, what was set by hand is written.
    const own = {
      ...placed(readOtio(timeline([a]))).project,
      time: { startSeconds: 7200, frameRateId: '25' },
    };
    expect(readOtio(writeOtio(own)).beginsAt).toBeCloseTo(7200, 6);
    expect(writeEdl(project, RATE_25).text).toContain('01:00:00:00');
  });

  it('does not move a programme whose start was set by hand', () => {
    const cut = readOtio(timeline([a], { global_start_time: time(25 * 3600) }));
    const base = { ...testProject(), clips: [], time: { startSeconds: 60, frameRateId: null } };
    expect(placeCut(base, cut, new Map(), () => 'n').project.time.startSeconds).toBe(60);
  });
});

describe('a programme placed from a cut', () => {
  const whole = placed(readOtio(timeline([clip('a'), clip('b')]))).project;
  const sentences = (project: Project) =>
    programmeFaults(project).map(({ kind, sentence }) => [kind, sentence]);

  it('cannot be certified with a clip that is disabled in the cut, until that is accepted', () => {
    expect(sentences(whole)).toEqual([]);
    const { project } = placed(readOtio(timeline([clip('a'), clip('b', { enabled: false })])));
    expect(sentences(project)).toEqual([['leftOut', '1 clip is disabled in the cut and left out: “b”.']]);
    const figures = {
      ...{ integratedLufs: -23, relativeGateLufs: -33, maxMomentaryLufs: -20, maxShortTermLufs: -21 },
      ...{ loudnessRangeLu: 5, truePeakDbtp: -3, samplePeakDbfs: null, channelPeaks: [] },
    };
    const outcome = (of: Project) =>
      verdictOf({ ...figures, integrity: programmeFaults(of) }, EBU_R128).outcome;
    expect(outcome(project)).toBe('notWhole');
    expect(outcome(acceptCutFaults(project))).toBe('meets');
  });

  it('cannot be certified without media that is missing', () => {
    const cut = readOtio(timeline([clip('a'), clip('b')]));
    const base = { ...testProject(), clips: [], sources: [sourceOf('a')] };
    const { project } = placeCut(base, cut, new Map([['a.wav', sourceOf('a')]]), () => 'n');
    expect(project.clips.map(({ name }) => name)).toEqual(['a']);
    expect(sentences(project)).toEqual([
      ['leftOut', 'b.wav was not found or is ambiguous; its clips are left out.'],
    ]);
  });

  it('carries the differences of every cut placed in it, and none once its clips are gone', () => {
    const off = readOtio(timeline([clip('a'), clip('b', { enabled: false })]));
    const sources = new Map([['a.wav', sourceOf('a')]]);
    const again = (base: Project) => placeCut(base, off, sources, () => 'n').project;
    const once = placed(off).project;
    expect(again(once).cutFaults).toHaveLength(2);
    expect(again({ ...once, clips: [] }).cutFaults).toHaveLength(1);
    expect(sentences({ ...once, clips: [] })).toEqual([]);
  });

  it('reads back with them', () => {
    const { project } = placed(readOtio(timeline([clip('a'), clip('b', { enabled: false })])));
    const stored: unknown = JSON.parse(JSON.stringify(project));
    expect(migrateProject(stored as Parameters<typeof migrateProject>[0]).cutFaults).toEqual(
      project.cutFaults,
    );
    expect(migrateProject({ ...project, schema: 10, cutFaults: undefined }).cutFaults).toEqual([]);
  });
});

describe('lists', () => {
  const event = (source: [string, string], record: [string, string]): string =>
    `001  REEL1 A C ${source.join(' ')} ${record.join(' ')}\n`;
  const [at0, at2, at3] = ['00:00:00:00', '00:00:02:00', '00:00:03:00'];

  it('that count in drop frame are read so, and that is said where another rate was chosen', () => {
    const list = `FCM: DROP FRAME\n${event(['00:00:00;00', '00:00:02;00'], ['01:00:00;00', '01:00:02;00'])}`;
    const cut = readEdl(list, RATE_25);
    expect(cut.frameRateId).toBe('29.97df');
    expect(cut.warnings).toEqual([
      'The list uses drop-frame timecode, which 25 fps does not have; it was read at 29.97 drop.',
    ]);
    expect(cut.beginsAt).toBeCloseTo(3600, 1);
  });

  it('whose source and record lengths contradict each other say so', () => {
    expect(readEdl(event([at0, at2], [at0, at2]), RATE_25).faults).toEqual([]);
    expect(readEdl(event([at0, at3], [at0, at2]), RATE_25).faults).toEqual([
      {
        kind: 'altered',
        sentence:
          'Line 1: 3.00 s of the source are placed over 2.00 s; the length in the programme was used.',
      },
    ]);
  });

  it('keep the timecode at which they begin', () => {
    const { project } = placed(readEdl(event([at0, at2], ['01:00:00:00', '01:00:02:00']), RATE_25));
    expect(project.time).toEqual({ startSeconds: 3600, frameRateId: '25' });
    expect(project.clips[0]!.start).toBe(0);
    expect(writeEdl(project, RATE_25).text).toContain(`${timecodeOf(25 * 3600, RATE_25)}`);
  });
});

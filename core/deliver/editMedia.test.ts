import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { AudioReader } from '@/core/audio/reader';
import { SPEECH_AND_MUSIC } from '@/core/signal/limiter/presets';
import { setTrackGain } from '@/core/programme/edits/levels';
import { programmeFrames, type Project } from '@/core/programme/model';
import { renderRange } from '@/core/signal/mix';
import { clipsArbitrary, openTestSource, testClip, testProject } from '@/core/testing/projects';
import { memoryReader } from '@/core/testing/signals';
import { FRAME_RATES } from '@/core/text/timecode';
import { readEdl } from '@/core/timeline/edl';
import { writeEdl } from '@/core/timeline/writeEdl';
import { editMedia, type EditMedia, type EditMediaWish } from './editMedia';
import { fileSaid } from './fileSaid';
import { hearingOf, mixSounds } from './mixSounds';

const wish = (change: Partial<EditMediaWish> = {}): EditMediaWish => ({
  ...{ per: 'clip', handleSeconds: 0.5, gains: 'rendered', depth: 'f32' },
  ...change,
});

/** The files, rendered. */
async function rendered({ files, renderFrom }: EditMedia): Promise<ReadonlyMap<string, AudioReader>> {
  const made = new Map<string, AudioReader>();
  for (const { key, clipIds, from, to } of files) {
    const [sound] = mixSounds(renderFrom, openTestSource, from, to, [hearingOf(clipIds)]);
    made.set(key, memoryReader([...(await sound!.read(0, to - from))], renderFrom.sampleRate));
  }
  return made;
}

/** The largest difference between a programme and what its files come to when they are laid out as their cut says. */
async function difference(project: Project, how: EditMediaWish): Promise<number> {
  const media = editMedia(project, how);
  const readers = await rendered(media);
  const frames = programmeFrames(project);
  const bare = { ...project, curve: [], limiter: null };
  const [was, is] = await Promise.all([
    renderRange(bare, openTestSource, 0, frames),
    renderRange(media.cut, (source) => Promise.resolve(readers.get(source.id)!), 0, frames),
  ]);
  return was.reduce(
    (most, channel, c) => channel.reduce((m, x, i) => Math.max(m, Math.abs(x - is[c]![i]!)), most),
    0,
  );
}

describe('media for an edit system', () => {
  it('laid out as its cut says sounds as the programme does', async () => {
    const ways = fc.constantFrom<Partial<EditMediaWish>>(
      {},
      { gains: 'left' },
      { handleSeconds: 0 },
      { per: 'track' },
    );
    await fc.assert(
      fc.asyncProperty(clipsArbitrary, ways, fc.integer({ min: -9, max: 6 }), async (clips, way, db) => {
        const project = setTrackGain(testProject(clips), 't1', db);
        expect(await difference(project, wish(way))).toBeLessThan(2e-5);
      }),
      { numRuns: 10 },
    );
  });

  it('has what limiters do in its files, behind the gain of the track as well', async () => {
    const limiter = { ...SPEECH_AND_MUSIC, ceilingDbtp: -12 };
    const loud = { db: 9, lastChangeDb: 9, reason: { kind: 'byHand' } } as const;
    const clip = testClip({ id: 'a', sourceId: 's1', length: 90_000, limiter, gain: loud });
    const project = setTrackGain(testProject([clip]), 't0', -5);
    for (const gains of ['rendered', 'left'] as const)
      expect(await difference(project, wish({ gains, handleSeconds: 0 }))).toBeLessThan(2e-5);
  });

  it('has handles as far as the source goes, and stamps that say where each file belongs', () => {
    const project = {
      ...testProject([
        testClip({ id: 'a.wav', start: 48_000, sourceStart: 12_000, length: 48_000 }),
        testClip({ id: 'b', start: 480_000, sourceStart: 96_000, length: 48_000, sourceId: 's1' }),
      ]),
      time: { frameRateId: '25', startSeconds: 36_000 },
    };
    const { files, cut, said } = editMedia(project, wish());
    expect(files.map(({ name, from, to }) => [name, from, to])).toEqual([
      ['Dialogue/001 a.wav', 36_000, 120_000],
      ['Dialogue/002 b.wav', 456_000, 552_000],
    ]);
    expect(said.join(' ')).toContain('1 clip has shorter handles');
    const stamps = files.map((file) => fileSaid(project, file, '2026-01-31 21:04:00').timeReference);
    expect(stamps).toEqual([36_000 * 48_000 + 36_000, 36_000 * 48_000 + 456_000]);
    expect(cut.sources.map(({ timeReference }) => timeReference)).toEqual(stamps);
    // The list finds each file where its stamp says.
    const list = readEdl(
      writeEdl(
        cut,
        FRAME_RATES.find(({ id }) => id === '25')!,
      ).text,
      FRAME_RATES[2]!,
    );
    expect(list.tracks[0]!.clips.map(({ media, sourceStart }) => [media.name, sourceStart])).toEqual([
      ['001 a.wav', 36_001],
      ['002 b.wav', 36_010],
    ]);
  });

  it('leaves out what is muted, and says so; folders differ', () => {
    const project = testProject([testClip({ id: 'a' }), testClip({ id: 'm', trackId: 't1' })]);
    const tracks = project.tracks.map((track) => ({ ...track, name: 'Take/1', muted: track.id === 't1' }));
    const muted = editMedia({ ...project, tracks, limiter: SPEECH_AND_MUSIC }, wish());
    expect(muted.files.map(({ name }) => name)).toEqual(['Take 1/001 a.wav']);
    expect(muted.said.join(' ')).toMatch(/limiter of the whole programme.*because muted: Take\/1/);
    const both = editMedia({ ...project, tracks: tracks.map((one) => ({ ...one, muted: false })) }, wish());
    expect(both.files.map(({ name }) => name)).toEqual(['Take 1/001 a.wav', 'Take 1 2/002 m.wav']);
  });
});

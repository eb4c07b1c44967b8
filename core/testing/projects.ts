import fc from 'fast-check';
import { layoutFor } from '@/core/audio/layout';
import type { AudioReader } from '@/core/audio/reader';
import { newProject } from '@/core/programme/newProject';
import { SILENT_DB } from '@/core/programme/curve';
import {
  PLAIN_CLIP,
  PLAIN_TRACK,
  type Clip,
  type CurvePoint,
  type FadeShape,
  type Project,
  type SegmentShape,
  type Source,
} from '@/core/programme/model';
import type { OpenSource } from '@/core/signal/source';
import { memoryReader, noise } from './signals';

/** Sound for a few sources: mono and stereo, at the programme's rate and at others. */
const KINDS = [
  { channels: 1, sampleRate: 48_000 },
  { channels: 2, sampleRate: 48_000 },
  { channels: 1, sampleRate: 22_050 },
  { channels: 2, sampleRate: 44_100 },
] as const;
const SOURCE_SECONDS = 4;

const readers = new Map<string, AudioReader>(
  KINDS.map(({ channels, sampleRate }, index) => {
    const frames = SOURCE_SECONDS * sampleRate;
    const samples = Array.from({ length: channels }, (_, c) => {
      const x = noise(frames, 0.4, 10 * index + c + 1);
      for (let i = 0; i < frames; i++) x[i]! *= Math.abs(Math.sin(i / 7000 + c));
      return x;
    });
    return [`s${index}`, memoryReader(samples, sampleRate)];
  }),
);

export const openTestSource: OpenSource = (source) => Promise.resolve(readers.get(source.id)!);

const TEST_SOURCES: readonly Source[] = KINDS.map(({ channels, sampleRate }, index) => ({
  id: `s${index}`,
  name: `source ${index}.wav`,
  folder: '',
  audioKey: `audio-${index}`,
  byteLength: 0,
  container: 'WAV',
  codec: 'PCM 24-bit',
  sampleRate,
  layout: layoutFor(channels),
  frames: SOURCE_SECONDS * sampleRate,
  partial: false,
  warnings: [],
  speech: null,
  trimDb: 0,
  timeReference: null,
}));

/** A project with two tracks and the test sources. */
export function testProject(clips: readonly Clip[] = []): Project {
  const empty = newProject('p', 'Test', 't0');
  return {
    ...empty,
    sources: TEST_SOURCES,
    tracks: [...empty.tracks, { id: 't1', name: 'Music', role: 'music', ...PLAIN_TRACK }],
    clips,
  };
}

export function testClip(change: Partial<Clip> & { readonly id: string }): Clip {
  return {
    trackId: 't0',
    sourceId: 's0',
    name: change.id,
    start: 0,
    length: SOURCE_SECONDS * 48_000,
    sourceStart: 0,
    ...PLAIN_CLIP,
    ...change,
  };
}

const gainArbitrary = fc.double({ min: -30, max: 12, noNaN: true });

/** How a segment goes; mostly straight. */
const shapeArbitrary = fc.oneof(
  { weight: 3, arbitrary: fc.constant(undefined) },
  fc.constantFrom<SegmentShape[]>('easeStart', 'easeEnd', 'ease', 'step'),
);

/** Mostly none; else a few points anywhere in and around a clip, some of them silent. */
export const curveArbitrary: fc.Arbitrary<readonly CurvePoint[]> = fc.oneof(
  { weight: 2, arbitrary: fc.constant([]) },
  fc
    .uniqueArray(fc.integer({ min: -10_000, max: 4 * 48_000 }), { minLength: 1, maxLength: 5 })
    .chain((places) =>
      fc
        .array(fc.oneof(fc.double({ min: -20, max: 6, noNaN: true }), fc.constant(SILENT_DB)), {
          minLength: places.length,
          maxLength: places.length,
        })
        .chain((levels) =>
          fc
            .array(shapeArbitrary, { minLength: places.length, maxLength: places.length })
            .map((shapes) =>
              places
                .sort((a, b) => a - b)
                .map((at, i): CurvePoint => ({ at, db: levels[i]!, ...(shapes[i] && { shape: shapes[i] }) })),
            ),
        ),
    ),
);

const FADES: readonly FadeShape[] = ['equalPower', 'straight', 'smooth', 'exponential', 0.6, -0.3];

/** A clip of any test source, anywhere in the first 12 s. */
export const clipArbitrary = fc
  .record({
    source: fc.nat(KINDS.length - 1),
    track: fc.nat(1),
    start: fc.nat(8 * 48_000),
    sourceStart: fc.nat(48_000),
    length: fc.integer({ min: 1, max: 3 * 48_000 }),
    db: gainArbitrary,
    fade: fc.nat(40_000),
    curve: curveArbitrary,
  })
  .map(({ source, track, start, sourceStart, length, db, fade, curve }) =>
    testClip({
      id: 'clip',
      sourceId: `s${source}`,
      trackId: `t${track}`,
      start,
      sourceStart,
      length,
      gain: { db, lastChangeDb: db, reason: { kind: 'byHand' } },
      // Some without, some short, some over the whole clip.
      fadeIn: Math.min(fade % 3 === 0 ? 0 : fade, length >> 1),
      fadeOut: Math.min(fade % 2 === 0 ? 0 : fade, length >> 1),
      fadeInShape: FADES[fade % FADES.length]!,
      fadeOutShape: FADES[(fade >> 3) % FADES.length]!,
      balanceCurve:
        fade % 5 === 0
          ? [
              { at: sourceStart, balance: -0.4 },
              { at: sourceStart + fade + 1, balance: 0.5 },
            ]
          : [],
      curve,
    }),
  );

export const clipsArbitrary = fc
  .array(clipArbitrary, { minLength: 1, maxLength: 6 })
  .map((clips) => clips.map((clip, index) => ({ ...clip, id: `c${index}` })));

import { dbToAmplitude } from '@/core/loudness/decibels';
import { curveDbAt, curveDifference, pointAfter, segmentOf, SILENT_DB } from '@/core/programme/curve';
import type { CurvePoint, Project } from '@/core/programme/model';
import { shapedPart } from '@/core/programme/segments';
import type { ClipSound } from './clipSound';
import { samplesOf, type Piece } from './piece';
import { plainStation, type Span } from './station';
import type { TrackSound } from './trackSound';

/** Amplitude of a point of a curve; a silent one is nothing at all. */
export const curveAmplitude = (db: number): number => (db <= SILENT_DB ? 0 : dbToAmplitude(db));

/** Whether a curve is anything but flat at 0 dB in frames [from, to) of the source. */
export function curveWithin(curve: readonly CurvePoint[], from: number, to: number): boolean {
  if (curve.length === 0) return false;
  if (curveDbAt(curve, from) !== 0 || curveDbAt(curve, to) !== 0) return true;
  for (let i = pointAfter(curve, from); i < curve.length && curve[i]!.at < to; i++)
    if (curve[i]!.db !== 0) return true;
  return false;
}

/** Frames over which the gain of a straight segment goes on by one factor, counted from place 0. */
const STRIDE = 64;
const gains = new Float64Array(STRIDE);

/**
 * The gains of a segment at `count` places from `place` on, which lie in one stride. Straight in dB, each is the one before it times
 * the same factor, from the start of the stride on.
 */
function gainsAt(before: CurvePoint, after: CurvePoint, place: number, count: number): void {
  const segment = segmentOf(before, after);
  const height = after.db - before.db;
  const silent = before.db <= SILENT_DB || after.db <= SILENT_DB;
  if (segment.shape || silent) {
    for (let k = 0; k < count; k++)
      gains[k] = curveAmplitude(before.db + height * shapedPart(segment, place + k));
    return;
  }
  const perFrame = height / (after.at - before.at);
  const factor = dbToAmplitude(perFrame);
  const start = Math.floor(place / STRIDE) * STRIDE;
  let gain = dbToAmplitude(before.db + perFrame * (start - before.at));
  for (let k = start; k < place; k++) gain *= factor;
  for (let k = 0; k < count; k++, gain *= factor) gains[k] = gain;
}

/**
 * Applies a gain curve to samples, in place: between two points the gain goes in dB, by the shape of the segment. Each
 * frame's gain depends on its place alone, so that any piece fits its neighbours to the bit.
 * @param first place on the curve at which they begin, a whole number
 */
export function applyCurve(
  samples: readonly Float32Array[],
  curve: readonly CurvePoint[],
  first: number,
): void {
  const frames = samples[0]?.length ?? 0;
  let index = pointAfter(curve, first);
  for (let i = 0; i < frames;) {
    const before = curve[index - 1];
    const after = curve[index];
    const to = after ? Math.min(frames, Math.ceil(after.at - first)) : frames;
    if (!before || !after || before.db === after.db) {
      const gain = curveAmplitude((before ?? after)!.db);
      if (gain !== 1) for (const channel of samples) for (let k = i; k < to; k++) channel[k]! *= gain;
    } else {
      for (let k = i; k < to;) {
        const count = Math.min(to - k, STRIDE - ((((first + k) % STRIDE) + STRIDE) % STRIDE));
        gainsAt(before, after, first + k, count);
        for (const channel of samples) for (let j = 0; j < count; j++) channel[k + j]! *= gains[j]!;
        k += count;
      }
    }
    i = to;
    index++;
  }
}

const keyOf = (curve: readonly CurvePoint[]): readonly string[] =>
  curve.map(({ at, db, shape }) => `${at}:${db}${shape ? `:${shape}` : ''}`);

/** @param first place on the curve at which the piece begins */
function curved(piece: Piece, curve: readonly CurvePoint[], first: number): Piece {
  if (!curveWithin(curve, first, first + piece.frames)) return piece;
  const samples = samplesOf(piece);
  applyCurve(samples, curve, first);
  return { ...piece, sound: samples };
}

/** Where a curve is anything but 0 dB, in order. */
function spansOf(curve: readonly CurvePoint[]): Span[] {
  const spans: Span[] = [];
  const add = (from: number, to: number): void => {
    const last = spans.at(-1);
    if (last?.to === from) spans[spans.length - 1] = { from: last.from, to };
    else spans.push({ from, to });
  };
  curve.forEach(({ at, db }, i) => {
    const next = curve[i + 1];
    if (i === 0 && db !== 0) add(-Infinity, at);
    if (db !== 0 || (next && next.db !== 0)) add(at, next?.at ?? Infinity);
  });
  return spans;
}

/** A clip's gain over time. */
export const gainCurve = plainStation<ClipSound>({
  name: 'curve',
  key: ({ clip }) => keyOf(clip.curve),
  difference(a, b) {
    const { curve, sourceStart } = a.clip;
    const span = curveDifference(curve, b.clip.curve);
    return span && { from: span.from - sourceStart, to: span.to - sourceStart };
  },
  changes: ({ clip: { curve, sourceStart } }) =>
    spansOf(curve).map(({ from, to }) => ({ from: from - sourceStart, to: to - sourceStart })),
  apply: (piece, { clip: { curve, sourceStart } }, at) => curved(piece, curve, sourceStart + at),
  asRecorded: (project) => ({ ...project, clips: project.clips.map((clip) => ({ ...clip, curve: [] })) }),
});

/** Gain over time of a track, on all its clips together. */
export const trackCurve = plainStation<TrackSound>({
  name: 'track curve',
  key: ({ track }) => keyOf(track.curve),
  difference: (a, b) => curveDifference(a.track.curve, b.track.curve),
  apply: (piece, { track }, at) => curved(piece, track.curve, at),
  asRecorded: (project) => ({ ...project, tracks: project.tracks.map((track) => ({ ...track, curve: [] })) }),
});

/** Gain over time of the whole programme. */
export const programmeCurve = plainStation<Project>({
  name: 'programme curve',
  key: ({ curve }) => keyOf(curve),
  difference: (a, b) => curveDifference(a.curve, b.curve),
  apply: (piece, { curve }, at) => curved(piece, curve, at),
  asRecorded: (project) => ({ ...project, curve: [] }),
});

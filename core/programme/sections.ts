import type { TimeRange } from '@/core/loudness/levelTrack';
import { curveDbAt } from './curve';
import { clipEnd, type Clip } from './model';

/** A slice of the programme, frames: half-open, not empty. */
export interface FrameRange {
  readonly from: number;
  readonly to: number;
}

/** How long a ramp into and out of a section is unless another is asked for, seconds: too short to be heard as one, long enough not to click. */
export const RAMP_SECONDS = 0.02;

/** Frames that a part of a clip has at least. */
const LEAST_FRAMES = 2;

/** Where a frame of a clip's source lies in the programme. */
export const inProgramme = ({ start, sourceStart }: Clip, at: number): number => start + at - sourceStart;

/** Which frame of its source a clip has at a frame of the programme. */
export const inSource = ({ start, sourceStart }: Clip, frame: number): number => sourceStart + frame - start;

/** A slice of a clip with its ramps, frames of its source. */
export interface SectionPlace {
  readonly from: number;
  readonly to: number;
  /** From `from` to here it ramps in, and from `end` to `to` out. */
  readonly start: number;
  readonly end: number;
}

/**
 * Where the part of a clip that a range covers lies, with its ramps. They are inside it, so that nothing outside changes; at
 * an edge of the clip there is none to be heard: it lies beyond the edge.
 * @param ramp frames; at least one, and at most half the part
 * @returns `null` when the clip has no two frames there
 */
export function sectionPlace(clip: Clip, { from, to }: FrameRange, ramp: number): SectionPlace | null {
  const { sourceStart, length } = clip;
  const first = Math.max(inSource(clip, Math.round(from)), sourceStart);
  const last = Math.min(inSource(clip, Math.round(to)), sourceStart + length);
  if (last - first < LEAST_FRAMES) return null;
  const most = Math.max(1, Math.min(Math.round(ramp), Math.floor((last - first) / 2)));
  const [atStart, atEnd] = [first === sourceStart, last === sourceStart + length];
  return {
    from: atStart ? first - most : first,
    start: atStart ? first : first + most,
    end: atEnd ? last : last - most,
    to: atEnd ? last + most : last,
  };
}

/** The clips of which a range covers a part. */
export function coveredBy(clips: readonly Clip[], { from, to }: FrameRange): readonly Clip[] {
  return clips.filter((clip) => Math.min(to, clipEnd(clip)) - Math.max(from, clip.start) >= LEAST_FRAMES);
}

/** The part of a clip that a range covers, seconds of the clip. */
export function sectionSeconds(clip: Clip, { from, to }: FrameRange, sampleRate: number): TimeRange {
  const seconds = (frame: number): number =>
    Math.max(0, Math.min(clip.length, frame - clip.start)) / sampleRate;
  return { from: seconds(from), to: seconds(to) };
}

/** The range of the programme that a part of a clip is. @param part seconds of the clip */
export const sectionFrames = (clip: Clip, { from, to }: TimeRange, sampleRate: number): FrameRange => ({
  from: clip.start + from * sampleRate,
  to: clip.start + to * sampleRate,
});

/** The gain over time within a part, where it is the same throughout, ramps aside; else `null`. dB */
export function sectionDb(clip: Clip, range: FrameRange, ramp: number): number | null {
  const place = sectionPlace(clip, range, ramp);
  if (!place) return null;
  const db = curveDbAt(clip.curve, place.start);
  const same = (other: number): boolean => Math.abs(other - db) < 0.005;
  const inside = clip.curve.filter(({ at }) => at > place.start && at < place.end);
  return same(curveDbAt(clip.curve, place.end)) && inside.every((point) => same(point.db)) ? db : null;
}

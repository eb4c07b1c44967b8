import {
  curveDbAt,
  curveDifference,
  heldDb,
  pointAfter,
  SILENT_DB,
  simplified,
  type CurveStretch,
} from '../curve';
import type { GainEntry } from '../gainField';
import { clipEnd, type Clip, type CurvePoint, type Id, type Project } from '../model';

/** What is done to a part of a clip. */
export type SectionChange =
  /** Level at so many dB, or up or down by so many. */
  | GainEntry
  /** Nothing of it sounds. */
  | { readonly kind: 'silence' }
  /** Straight from what is before it to what is after it, as if nothing had been done to it. */
  | { readonly kind: 'even' };

/** How long a ramp into and out of a section is unless another is asked for, seconds: too short to be heard as one, long enough not to click. */
export const RAMP_SECONDS = 0.02;

/** A stretch of a clip with its ramps, frames of its source. */
export interface SectionPlace {
  readonly from: number;
  readonly to: number;
  /** From `from` to here it ramps in, and from `end` to `to` out. */
  readonly start: number;
  readonly end: number;
}

/**
 * Where a section and its ramps lie. The ramps are inside it, so that nothing outside changes; at an edge of the clip there
 * is none to be heard: it lies beyond the edge.
 * @param from, to frames of the source
 * @param ramp frames
 * @returns `null` when the clip has no two frames there
 */
function placeOf(clip: Clip, from: number, to: number, ramp: number): SectionPlace | null {
  const { sourceStart, length } = clip;
  const [first, last] = [Math.max(from, sourceStart), Math.min(to, sourceStart + length)];
  if (last - first < 2) return null;
  const most = Math.max(1, Math.min(Math.round(ramp), Math.floor((last - first) / 2)));
  const [atStart, atEnd] = [first === sourceStart, last === sourceStart + length];
  return {
    from: atStart ? first - most : first,
    start: atStart ? first : first + most,
    end: atEnd ? last : last - most,
    to: atEnd ? last + most : last,
  };
}

/** The part of a clip that a range of the programme covers. @param from, to programme frames */
export function sectionPlace(clip: Clip, from: number, to: number, ramp: number): SectionPlace | null {
  const offset = clip.sourceStart - clip.start;
  return placeOf(clip, Math.round(from) + offset, Math.round(to) + offset, ramp);
}

/** A curve with a section changed. What is silent stays silent when it is raised or lowered. */
function changed(
  curve: readonly CurvePoint[],
  { from, start, end, to }: SectionPlace,
  change: SectionChange,
): readonly CurvePoint[] {
  const keep = (at: number): CurvePoint => ({ at, db: curveDbAt(curve, at) });
  const before = curve.filter(({ at }) => at < from);
  const after = curve.filter(({ at }) => at > to);
  if (change.kind === 'even') return simplified([...before, keep(from), keep(to), ...after]);
  if (change.kind === 'silence') {
    const silent = [...new Set([start, end])].map((at) => ({ at, db: SILENT_DB }));
    return simplified([...before, keep(from), ...silent, keep(to), ...after]);
  }
  if (change.kind === 'set') {
    const level = [...new Set([start, end])].map((at) => ({ at, db: heldDb(change.db) }));
    return simplified([...before, keep(from), ...level, keep(to), ...after]);
  }
  const weight = (at: number): number => Math.min(1, (at - from) / (start - from), (to - at) / (to - end));
  const moved = ({ at, db }: CurvePoint): CurvePoint => {
    const next = db <= SILENT_DB ? db : heldDb(db + change.db * weight(at));
    // What was brought back to where it was is there, not a rounding away.
    return { at, db: Math.abs(next) < 1e-9 ? 0 : next };
  };
  const inside = curve.filter(({ at }) => at > from && at < to && at !== start && at !== end);
  const points = [...inside, keep(start), ...(end > start ? [keep(end)] : [])].sort((a, b) => a.at - b.at);
  return simplified([...before, keep(from), ...points.map(moved), keep(to), ...after]);
}

/**
 * Raises, lowers, silences or evens out a part of clips: what a range of the programme covers of each. Everything outside
 * stays as it is, to the bit.
 * @param from, to programme frames
 * @param changeOf what is done to each clip; `null`: nothing
 * @param ramp length of the ramps, frames; at least one, and at most half the section
 */
export function changeSections(
  project: Project,
  { from, to }: { readonly from: number; readonly to: number },
  changeOf: (clip: Clip) => SectionChange | null,
  ramp = RAMP_SECONDS * project.sampleRate,
): Project {
  let any = false;
  const clips = project.clips.map((clip) => {
    const change = clip.start < to && clipEnd(clip) > from ? changeOf(clip) : null;
    const place = change && sectionPlace(clip, from, to, ramp);
    if (!change || !place) return clip;
    const curve = changed(clip.curve, place, change);
    if (curveDifference(curve, clip.curve) === null) return clip;
    any = true;
    return { ...clip, curve };
  });
  return any ? { ...project, clips } : project;
}

/**
 * Moves a section of a clip up or down as it is, ramps and all: every point of it that is not at 0 dB; what is silent stays so.
 * @param section one of `curveSections`
 */
export function moveSection(project: Project, clipId: Id, { from, to }: CurveStretch, byDb: number): Project {
  const middle = (from + to) / 2;
  return {
    ...project,
    clips: project.clips.map((clip) => {
      if (clip.id !== clipId) return clip;
      const { curve } = clip;
      // From the last point at 0 dB before it to the first after it.
      const after = pointAfter(curve, middle);
      const first = curve.findLastIndex(({ db }, i) => i < after && db === 0) + 1;
      const next = curve.findIndex(({ db }, i) => i >= after && db === 0);
      const last = next < 0 ? curve.length : next;
      const moved = curve.map((point, i) =>
        i < first || i >= last || point.db <= SILENT_DB
          ? point
          : { at: point.at, db: heldDb(point.db + byDb) },
      );
      return { ...clip, curve: simplified(moved) };
    }),
  };
}

/** Takes the gain over time off clips. */
export function clearCurves(project: Project, clipIds: ReadonlySet<Id>): Project {
  return {
    ...project,
    clips: project.clips.map((clip) =>
      clipIds.has(clip.id) && clip.curve.length > 0 ? { ...clip, curve: [] } : clip,
    ),
  };
}

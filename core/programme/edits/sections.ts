import {
  curveDbAt,
  curveDifference,
  heldDb,
  pointAfter,
  SILENT_DB,
  simplified,
  straightAcross,
  type CurveSpan,
} from '../curve';
import { roomOf, type GainRoom } from '../clipGain';
import { PART_GAIN, type GainEntry } from '../gainField';
import { fadeAt } from '../fadeLaw';
import type { Clip, CurvePoint, FadeShape, Id, Project } from '../model';
import { thinned } from '../ride';
import { coveredBy, RAMP_SECONDS, sectionPlace, type FrameRange, type SectionPlace } from '../sections';

/** What is done to a part of a clip. */
export type SectionChange =
  /** Level at so many dB, or up or down by so many. */
  | GainEntry
  /** Nothing of it sounds. */
  | { readonly kind: 'silence' }
  /** Fades out to silence, or in from it; after or before that a ramp to what lies beyond. */
  | { readonly kind: 'fade'; readonly way: 'in' | 'out'; readonly shape: FadeShape }
  /** Straight from what is before it to what is after it, as if nothing had been done to it. */
  | { readonly kind: 'even' };

/** Parts of a fade at which its gain is taken: closer together where it comes up from silence. */
const FADE_PARTS = [
  ...Array.from({ length: 46 }, (_, i) => 2 ** (-i / 5)),
  ...Array.from({ length: 48 }, (_, i) => (i + 1) / 49),
].sort((a, b) => a - b);
/** How far the points of a faded part may lie from the fade, dB. */
const FADE_TOLERANCE_DB = 0.1;

/** What the curve was between two places, faded in from silence at `silent` to all of it at `whole`; in order of place. */
function fadedPoints(
  db: (at: number) => number,
  silent: number,
  whole: number,
  shape: FadeShape,
): CurvePoint[] {
  const values = FADE_PARTS.map((part) => {
    const at = Math.round(silent + part * (whole - silent));
    return { at, db: db(at) + 20 * Math.log10(Math.max(1e-9, fadeAt(part, shape))) };
  });
  const rising = values
    .filter(({ at }, i) => at !== silent && at !== values[i - 1]?.at)
    .sort((a, b) => a.at - b.at);
  const points = thinned(rising, FADE_TOLERANCE_DB, 0).map((point) => ({
    ...point,
    db: point.at === whole ? db(whole) : heldDb(point.db),
  }));
  return [...points, { at: silent, db: SILENT_DB }].sort((a, b) => a.at - b.at);
}

/** A curve with a section changed. What is silent stays silent when it is raised or lowered. */
function changed(
  shaped: readonly CurvePoint[],
  { from, start, end, to }: SectionPlace,
  change: SectionChange,
): readonly CurvePoint[] {
  const curve = straightAcross(shaped, [from, start, end, to]);
  const keep = (at: number): CurvePoint => ({ at, db: curveDbAt(curve, at) });
  const before = curve.filter(({ at }) => at < from);
  const after = curve.filter(({ at }) => at > to);
  if (change.kind === 'even') return simplified([...before, keep(from), keep(to), ...after]);
  if (change.kind === 'silence') {
    const silent = [...new Set([start, end])].map((at) => ({ at, db: SILENT_DB }));
    return simplified([...before, keep(from), ...silent, keep(to), ...after]);
  }
  if (change.kind === 'fade') {
    const { way, shape } = change;
    const [silent, whole] = way === 'out' ? [end, from] : [start, to];
    const inside = fadedPoints((at) => curveDbAt(curve, at), silent, whole, shape);
    const edges = [keep(from), keep(to)].filter(({ at }) => at !== whole);
    return simplified([...before, ...edges, ...inside, ...after].sort((a, b) => a.at - b.at));
  }
  if (change.kind === 'set') {
    const level = [...new Set([start, end])].map((at) => ({ at, db: heldDb(change.db) }));
    return simplified([...before, keep(from), ...level, keep(to), ...after]);
  }
  const weight = (at: number): number => Math.min(1, (at - from) / (start - from), (to - at) / (to - end));
  const moved = (point: CurvePoint): CurvePoint => {
    const { at, db } = point;
    const next = db <= SILENT_DB ? db : heldDb(db + change.db * weight(at));
    // What was brought back to where it was is there, not a rounding away.
    return { ...point, db: Math.abs(next) < 1e-9 ? 0 : next };
  };
  const inside = curve.filter(({ at }) => at > from && at < to && at !== start && at !== end);
  const points = [...inside, keep(start), ...(end > start ? [keep(end)] : [])].sort((a, b) => a.at - b.at);
  return simplified([...before, keep(from), ...points.map(moved), keep(to), ...after]);
}

/** A part of a curve, and by how much it goes down, dB. */
export interface LoweredPart extends SectionPlace {
  readonly db: number;
}

/**
 * A curve with parts lowered, ramps and all; the rest is as it was, to the bit. In one go, however many there are.
 * @param parts in order, none reaching into another
 */
export function lowerParts(
  shaped: readonly CurvePoint[],
  parts: readonly LoweredPart[],
): readonly CurvePoint[] {
  const curve = straightAcross(
    shaped,
    parts.flatMap(({ from, start, end, to }) => [from, start, end, to]),
  );
  const points: CurvePoint[] = [];
  let next = 0;
  for (const { from, start, end, to, db } of parts) {
    while (next < curve.length && curve[next]!.at < from) points.push(curve[next++]!);
    const inside = new Map<number, CurvePoint>();
    for (const at of [from, start, end, to]) inside.set(at, { at, db: curveDbAt(curve, at) });
    for (; next < curve.length && curve[next]!.at <= to; next++) inside.set(curve[next]!.at, curve[next]!);
    for (const point of [...inside.values()].sort((a, b) => a.at - b.at)) {
      const weight = Math.min(1, (point.at - from) / (start - from), (to - point.at) / (to - end));
      points.push(point.db <= SILENT_DB ? point : { ...point, db: heldDb(point.db - db * weight) });
    }
  }
  return simplified([...points, ...curve.slice(next)]);
}

/** The levels that a change of a part of a clip moves in full, dB; what is silent stays so. @param ramp frames */
export function sectionLevels(clip: Clip, range: FrameRange, ramp: number): readonly number[] {
  const place = sectionPlace(clip, range, ramp);
  if (!place) return [];
  const { start, end } = place;
  const inside = clip.curve.flatMap(({ at, db }) => (at > start && at < end ? [db] : []));
  return [curveDbAt(clip.curve, start), ...inside, curveDbAt(clip.curve, end)].filter((db) => db > SILENT_DB);
}

/** One part of one clip, and what is done to it. */
export interface SectionEdit {
  readonly clipId: Id;
  readonly range: FrameRange;
  readonly change: SectionChange;
}

/**
 * Raises, lowers, silences, fades or evens out parts of clips, those of one clip one after the other. Everything outside them stays
 * as it is, to the bit.
 * @param ramp length of the ramps, frames; at least one, and at most half of a part
 */
export function editSections(
  project: Project,
  edits: readonly SectionEdit[],
  ramp = RAMP_SECONDS * project.sampleRate,
): Project {
  const byClip = new Map<Id, SectionEdit[]>();
  for (const edit of edits) {
    const others = byClip.get(edit.clipId);
    if (others) others.push(edit);
    else byClip.set(edit.clipId, [edit]);
  }
  let any = false;
  const clips = project.clips.map((clip) => {
    const curve = (byClip.get(clip.id) ?? []).reduce((points, { range, change }) => {
      const place = sectionPlace(clip, range, ramp);
      return place ? changed(points, place, change) : points;
    }, clip.curve);
    if (curveDifference(curve, clip.curve) === null) return clip;
    any = true;
    return { ...clip, curve };
  });
  return any ? { ...project, clips } : project;
}

/**
 * Does one thing to what a range covers of clips, see {@link editSections}.
 * @param changeOf what is done to each clip; `null`: nothing
 */
export function changeSections(
  project: Project,
  range: FrameRange,
  changeOf: (clip: Clip) => SectionChange | null,
  ramp?: number,
): Project {
  const edits = coveredBy(project.clips, range).flatMap((clip): SectionEdit[] => {
    const change = changeOf(clip);
    return change ? [{ clipId: clip.id, range, change }] : [];
  });
  return editSections(project, edits, ramp);
}

/** The points of a section: from the first after 0 dB before it to the last before 0 dB after it, as indices, `end` past the last. */
function pointsOf(curve: readonly CurvePoint[], { from, to }: CurveSpan) {
  const after = pointAfter(curve, (from + to) / 2);
  const first = curve.findLastIndex(({ db }, i) => i < after && db === 0) + 1;
  const next = curve.findIndex(({ db }, i) => i >= after && db === 0);
  return { first, end: next < 0 ? curve.length : next };
}

/** How far a section can go up and down as it is, dB from where it stands: until the first of its points can go no further. */
export function sectionRoom({ curve }: Clip, section: CurveSpan): GainRoom {
  const { first, end } = pointsOf(curve, section);
  const levels = curve.slice(first, end).flatMap(({ db }) => (db <= SILENT_DB ? [] : [db]));
  const { minDb, maxDb } = roomOf(levels, PART_GAIN);
  return { minDb: Math.min(0, minDb), maxDb: Math.max(0, maxDb) };
}

/**
 * Moves a section of a clip up or down as it is, ramps and all: every point of it that is not at 0 dB; what is silent stays
 * so. Where one point could go no further all stop together.
 * @param section one of `curveSections`
 */
export function moveSection(project: Project, clipId: Id, section: CurveSpan, byDb: number): Project {
  return {
    ...project,
    clips: project.clips.map((clip) => {
      if (clip.id !== clipId) return clip;
      const { curve } = clip;
      const { first, end } = pointsOf(curve, section);
      const { minDb, maxDb } = sectionRoom(clip, section);
      const by = Math.min(maxDb, Math.max(minDb, byDb));
      const moved = curve.map((point, i) =>
        i < first || i >= end || point.db <= SILENT_DB ? point : { ...point, db: point.db + by },
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

import { changeGain } from '@/core/programme/edits/gain';
import { moveEverything } from '@/core/programme/edits/levels';
import { changeLimiters } from '@/core/programme/edits/limiters';
import { editSections, lowerParts } from '@/core/programme/edits/sections';
import type { Id, Limiter, Project } from '@/core/programme/model';
import { RAMP_SECONDS, type FrameRange } from '@/core/programme/sections';
import { withRide, type RidePoint } from './rideCurve';
import { mendedClick, type FoundClick } from '@/core/proposals/clicks';

/** What a fix changes, as plain data. Ranges are programme frames in which the change is whole: ramps lie outside. */
export type FixChange =
  | {
      readonly kind: 'parts';
      readonly clipIds: readonly Id[];
      readonly range: FrameRange;
      readonly db: number;
    }
  | { readonly kind: 'clips'; readonly clipIds: readonly Id[]; readonly db: number }
  | { readonly kind: 'limiter'; readonly clipId: Id; readonly limiter: Limiter }
  /** On the gain curve of the programme; `db` is over 0 and goes down. */
  | { readonly kind: 'curve'; readonly range: FrameRange; readonly db: number }
  /** Added to the gain curve of the programme. */
  | { readonly kind: 'ride'; readonly points: readonly RidePoint[] }
  /** Of every track. */
  | { readonly kind: 'shift'; readonly db: number }
  | { readonly kind: 'click'; readonly click: FoundClick };

/** The smallest change that mends a finding. */
export interface Fix {
  readonly findingId: string;
  readonly change: FixChange;
  /** What it changes, in words. */
  readonly what: string;
  /** Of what was found. */
  readonly before: number | null;
  readonly after: number | null;
  /** Of the programme with it. */
  readonly integratedLufs: number | null;
  readonly truePeakDbtp: number | null;
  /** By how much it changes the programme’s loudness, LU. */
  readonly changeLu: number | null;
  /** Whether what was found is gone with it; else it is only less. */
  readonly mends: boolean;
  readonly sentence: string;
}

/** A project with a fix on it. */
export function withFix(project: Project, change: FixChange): Project {
  const ramp = Math.round(RAMP_SECONDS * project.sampleRate);
  if (change.kind === 'parts') {
    const { from, to } = change.range;
    const range = { from: from - ramp, to: to + ramp };
    return editSections(
      project,
      change.clipIds.map((clipId) => ({ clipId, range, change: { kind: 'change', db: change.db } })),
      ramp,
    );
  }
  if (change.kind === 'clips')
    return changeGain(project, new Set(change.clipIds), { kind: 'change', db: change.db });
  if (change.kind === 'limiter')
    return changeLimiters(project, { kind: 'clips', ids: new Set([change.clipId]) }, () => change.limiter);
  if (change.kind === 'curve') {
    const { from, to } = change.range;
    const part = { from: from - ramp, start: from, end: to, to: to + ramp, db: change.db };
    return { ...project, curve: lowerParts(project.curve, [part]) };
  }
  if (change.kind === 'ride') return { ...project, curve: withRide(project.curve, change.points) };
  if (change.kind === 'shift') return moveEverything(project, change.db);
  return mendedClick(project, change.click);
}

/** Where a fix works, programme frames; all of it where it moves everything. */
export function reachOfFix(project: Project, change: FixChange): FrameRange {
  if (change.kind === 'parts' || change.kind === 'curve') return change.range;
  if (change.kind === 'shift' || change.kind === 'ride') return { from: 0, to: Infinity };
  if (change.kind === 'click') return { from: change.click.at - 1, to: change.click.at + 1 };
  const ids = change.kind === 'clips' ? change.clipIds : [change.clipId];
  const clips = project.clips.filter(({ id }) => ids.includes(id));
  return {
    from: Math.min(...clips.map(({ start }) => start)),
    to: Math.max(...clips.map(({ start, length }) => start + length)),
  };
}

/** Whether two fixes that work there get into each other’s way. */
export const meet = (one: FrameRange, other: FrameRange): boolean =>
  one.from < other.to && other.from < one.to;

import { curveDbAt } from '@/core/programme/curve';
import { changeSections, sectionPlace, type SectionChange } from '@/core/programme/edits/sections';
import type { GainEntry } from '@/core/programme/gainField';
import { clipEnd, type Clip, type Id, type Project } from '@/core/programme/model';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { lookNow } from '../look';
import { count } from '../../parts/words';
import type { Session } from '../../session/session';
import { gainText } from '../clipLevel';

/** A stretch of the programme, frames. */
export interface Frames {
  readonly from: number;
  readonly to: number;
}

/** The ramps that are asked for, frames. */
const rampFrames = (sampleRate: number): number => (lookNow().rampMs / 1_000) * sampleRate;

/** The clips of which a range covers a part. */
export function coveredBy(clips: readonly Clip[], range: Frames | null): readonly Clip[] {
  return range
    ? clips.filter((clip) => Math.min(range.to, clipEnd(clip)) - Math.max(range.from, clip.start) >= 2)
    : [];
}

/** The part of a clip that a range covers, seconds of the clip. */
export function partOf(clip: Clip, { from, to }: Frames, sampleRate: number): TimeRange {
  const seconds = (frame: number): number =>
    Math.max(0, Math.min(clip.length, frame - clip.start)) / sampleRate;
  return { from: seconds(from), to: seconds(to) };
}

/** The gain over time within a part, where it is the same throughout; else `null`. dB */
export function levelDbOf(clip: Clip, range: Frames, sampleRate: number): number | null {
  const place = sectionPlace(clip, range.from, range.to, rampFrames(sampleRate));
  if (!place) return null;
  const db = curveDbAt(clip.curve, place.start);
  const same = (other: number): boolean => Math.abs(other - db) < 0.005;
  const inside = clip.curve.filter(({ at }) => at > place.start && at < place.end);
  return same(curveDbAt(clip.curve, place.end)) && inside.every((point) => same(point.db)) ? db : null;
}

const who = (clips: readonly Clip[]): string =>
  clips.length === 1 ? clips[0]!.name : count(clips.length, 'clip');

function nameOf(change: SectionChange, clips: readonly Clip[]): string {
  if (change.kind === 'silence') return `Silence a part of ${who(clips)}`;
  if (change.kind === 'even') return `Even out a part of ${who(clips)}`;
  if (change.kind === 'set') return `Set a part of ${who(clips)} to ${gainText(change.db)}`;
  return `${change.db < 0 ? 'Lower' : 'Raise'} a part of ${who(clips)} by ${gainText(Math.abs(change.db)).replace('+', '')}`;
}

/** Does one thing to the part of each clip that a range covers, as one step. */
export function changePart(
  session: Session,
  clips: readonly Clip[],
  range: Frames,
  change: SectionChange,
  merge: string | null = null,
): void {
  const ids = new Set(clips.map(({ id }) => id));
  session.do(
    nameOf(change, clips),
    (project) =>
      changeSections(
        project,
        range,
        ({ id }) => (ids.has(id) ? change : null),
        rampFrames(project.sampleRate),
      ),
    merge,
  );
}

/** Parts with a gain worked out for each: of one clip several, or one of each of several. */
export interface PartGain {
  readonly clipId: Id;
  /** Programme frames. */
  readonly range: Frames;
  readonly change: GainEntry;
}

/** The programme with the gains of parts. */
export function withParts(project: Project, gains: readonly PartGain[]): Project {
  return gains.reduce(
    (state, { clipId, range, change }) =>
      changeSections(state, range, ({ id }) => (id === clipId ? change : null), rampFrames(state.sampleRate)),
    project,
  );
}

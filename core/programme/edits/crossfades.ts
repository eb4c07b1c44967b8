import { clipEnd, type Clip, type FadeShape, type Id, type Project } from '../model';

/** Two clips of one track where one goes on under the next, or touches it. */
export interface Join {
  readonly before: Clip;
  readonly after: Clip;
  /** Frames that they share; 0 where they touch. */
  readonly shared: number;
}

/** The join at the end of a clip; `null` where no other clip of its track begins there. */
export function joinAfter({ clips }: Project, clip: Clip): Join | null {
  const end = clipEnd(clip);
  let found: Clip | null = null;
  for (const other of clips) {
    if (other.trackId !== clip.trackId || other.id === clip.id) continue;
    if (other.start <= clip.start || other.start > end || clipEnd(other) <= end) continue;
    if (!found || other.start < found.start) found = other;
  }
  return found && { before: clip, after: found, shared: end - found.start };
}

/** What two clips have beyond a join, frames: how far the first goes on in its source, and the second back in its own. */
export interface Handles {
  readonly after: number;
  readonly before: number;
}

/** @param sourceFrames length of the first clip's source at the programme's rate */
export function handlesOf({ before, after }: Join, sourceFrames: number): Handles {
  return {
    after: Math.max(0, sourceFrames - (before.sourceStart + before.length)),
    before: Math.max(0, after.sourceStart),
  };
}

/**
 * Crosses two clips over from one frame to another: the first goes on to its end, the second begins at its start, the fades of both are as
 * long as what they share. Both must have sound there: see {@link handlesOf}.
 * @param from, to programme frames, around the join
 * @param shape of both
 */
export function crossfade(
  project: Project,
  { before, after }: Join,
  from: number,
  to: number,
  shape: FadeShape,
): Project {
  const start = Math.round(Math.max(from, before.start + before.fadeIn));
  const end = Math.round(Math.min(to, clipEnd(after) - after.fadeOut));
  const length = Math.max(0, end - start);
  return {
    ...project,
    clips: project.clips.map((clip) => {
      if (clip.id === before.id)
        return { ...clip, length: end - clip.start, fadeOut: length, fadeOutShape: shape };
      if (clip.id !== after.id) return clip;
      const shift = start - clip.start;
      return {
        ...clip,
        start,
        length: clip.length - shift,
        sourceStart: clip.sourceStart + shift,
        fadeIn: length,
        fadeInShape: shape,
      };
    }),
  };
}

/** Whether two clips fade into one another over just what they share. */
export const isCrossfade = ({ before, after, shared }: Join): boolean =>
  shared > 0 && before.fadeOut === shared && after.fadeIn === shared;

/**
 * Lets the fades of a crossfade follow where one of its clips was trimmed or moved: they stay as long as what the clips share.
 * @param project before
 * @param changed after
 * @param clipIds whose ends were moved
 */
export function followCrossfades(project: Project, changed: Project, clipIds: ReadonlySet<Id>): Project {
  const now = new Map(changed.clips.map((clip) => [clip.id, clip]));
  const fades = new Map<Id, Partial<Clip>>();
  for (const clip of project.clips) {
    const join = joinAfter(project, clip);
    if (!join || !isCrossfade(join) || !(clipIds.has(clip.id) || clipIds.has(join.after.id))) continue;
    const [a, b] = [now.get(clip.id), now.get(join.after.id)];
    if (!a || !b) continue;
    const shared = Math.max(0, Math.min(clipEnd(a) - b.start, a.length - a.fadeIn, b.length - b.fadeOut));
    fades.set(a.id, { ...fades.get(a.id), fadeOut: shared });
    fades.set(b.id, { ...fades.get(b.id), fadeIn: shared });
  }
  if (fades.size === 0) return changed;
  return { ...changed, clips: changed.clips.map((clip) => ({ ...clip, ...fades.get(clip.id) })) };
}

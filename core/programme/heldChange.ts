import { signed } from '@/core/text/figures';
import { totalDbOf } from './clipGain';
import { SILENT_DB } from './curve';
import { linkedTracks } from './edits/levels';
import { CLIP_GAIN, GROUP_GAIN, PART_GAIN, SOURCE_TRIM, TRACK_GAIN, type GainRange } from './gainField';
import { wholeGroup } from './groups';
import { sectionLevels } from './edits/sections';
import type { FrameRange } from './sections';
import type { CurvePoint, Id, Project } from './model';

/** A change of several gains by one amount, as far as all of them can follow: their balance stays. */
export interface HeldChange {
  /** dB, towards what was wanted. */
  readonly db: number;
  /** Who can go no further, as a full sentence; `null` when all went all the way. */
  readonly stopped: string | null;
}

interface Named {
  readonly name: string;
  /** dB */
  readonly db: number;
}

/** Holds a change of these gains to what the first to stop allows. */
function heldChange(gains: readonly Named[], range: GainRange, byDb: number): HeldChange {
  const { min, max } = range;
  let db = byDb;
  let first: Named | null = null;
  for (const gain of gains) {
    const room = byDb > 0 ? Math.max(0, max - gain.db) : Math.min(0, min - gain.db);
    if (Math.abs(room) < Math.abs(db)) {
      db = room;
      first = gain;
    }
  }
  if (first === null) return { db, stopped: null };
  const end = `${signed(byDb > 0 ? max : min, 0)} dB`;
  const asked = `${signed(byDb)} dB asked, ${signed(db)} dB done`;
  const all = gains.length > 1 ? ' for all' : '';
  return { db, stopped: `${asked}${all}: the ${range.name.toLowerCase()} of ${first.name} goes to ${end}.` };
}

/** The level of clips: the gain of the group that they are, else their own. */
export function heldLevel(project: Project, clipIds: ReadonlySet<Id>, byDb: number): HeldChange {
  const group = wholeGroup(project, clipIds);
  if (group) return heldChange([{ name: group.name, db: group.gain.db }], GROUP_GAIN, byDb);
  return heldClips(project, clipIds, byDb);
}

/** The own gain of clips. */
export const heldClips = (project: Project, clipIds: ReadonlySet<Id>, byDb: number): HeldChange =>
  heldChange(
    project.clips.flatMap(({ id, name, gain }) => (clipIds.has(id) ? [{ name, db: gain.db }] : [])),
    CLIP_GAIN,
    byDb,
  );

/** Points of a gain curve, by their places; what is silent stays so. @param name of what has the curve */
export const heldPoints = (
  name: string,
  curve: readonly CurvePoint[],
  places: ReadonlySet<number>,
  byDb: number,
): HeldChange =>
  heldChange(
    curve.flatMap(({ at, db }) =>
      places.has(at) && db > SILENT_DB ? [{ name: `a point of ${name}`, db }] : [],
    ),
    PART_GAIN,
    byDb,
  );

const heldTracks = (project: Project, ids: ReadonlySet<Id>, byDb: number): HeldChange =>
  heldChange(
    project.tracks.flatMap(({ id, name, gainDb }) => (ids.has(id) ? [{ name, db: gainDb }] : [])),
    TRACK_GAIN,
    byDb,
  );

/** A track's gain with those linked to it. */
export const heldTrack = (project: Project, trackId: Id, byDb: number): HeldChange =>
  heldTracks(project, linkedTracks(project, trackId), byDb);

/** The gain of every track. */
export const heldEverything = (project: Project, byDb: number): HeldChange =>
  heldTracks(project, new Set(project.tracks.map(({ id }) => id)), byDb);

/** The trims of sources. */
export const heldTrims = (project: Project, sourceIds: ReadonlySet<Id>, byDb: number): HeldChange =>
  heldChange(
    project.sources.flatMap(({ id, name, trimDb }) => (sourceIds.has(id) ? [{ name, db: trimDb }] : [])),
    SOURCE_TRIM,
    byDb,
  );

/** The part of clips that a range covers. @param ramp length of its ramps, frames */
export const heldParts = (
  project: Project,
  clipIds: ReadonlySet<Id>,
  range: FrameRange,
  ramp: number,
  byDb: number,
): HeldChange =>
  heldChange(
    project.clips.flatMap((clip) =>
      clipIds.has(clip.id) ? sectionLevels(clip, range, ramp).map((db) => ({ name: clip.name, db })) : [],
    ),
    PART_GAIN,
    byDb,
  );

/** Names of the clips that sound otherwise after groups were taken apart: their gain cannot carry the group's on. */
export function heldByUngrouping(before: Project, after: Project): string[] {
  const [was, is] = [totalDbOf(before), totalDbOf(after)];
  const now = new Map(after.clips.map((clip) => [clip.id, is(clip)]));
  return before.clips.flatMap((clip) => (Math.abs(now.get(clip.id)! - was(clip)) > 1e-6 ? [clip.name] : []));
}

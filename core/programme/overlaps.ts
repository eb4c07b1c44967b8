import { clipEnd, type Clip, type Id, type Project } from './model';

type Laid = Pick<Clip, 'trackId' | 'start' | 'length'>;

/** What lies on each track, in order of time. */
function byTrack(clips: readonly Clip[]): Map<Id, Clip[]> {
  const tracks = new Map<Id, Clip[]>();
  for (const clip of clips) {
    const lane = tracks.get(clip.trackId);
    if (lane) lane.push(clip);
    else tracks.set(clip.trackId, [clip]);
  }
  for (const lane of tracks.values()) lane.sort((a, b) => a.start - b.start);
  return tracks;
}

/** Clips of some that lie over others of their tracks: both sound. */
export function covering(project: Project, ids: ReadonlySet<Id>): readonly Clip[] {
  const others = byTrack(project.clips.filter(({ id }) => !ids.has(id)));
  return project.clips.filter(
    (clip) =>
      ids.has(clip.id) &&
      (others.get(clip.trackId) ?? []).some(
        (other) => other.start < clipEnd(clip) && clip.start < clipEnd(other),
      ),
  );
}

/**
 * The first place at which clips can be laid so that they cover nothing that is there.
 * @param laid the clips as they lie to each other
 * @param at the earliest place for the first of them, programme frames
 * @returns programme frames, for the first of them
 */
export function freePlace(project: Project, laid: readonly Laid[], at: number): number {
  const first = laid.reduce((least, { start }) => Math.min(least, start), Infinity);
  const there = byTrack(project.clips);
  let place = at;
  for (let moved = true; moved;) {
    moved = false;
    for (const { trackId, start, length } of laid) {
      for (const other of there.get(trackId) ?? []) {
        const from = place + start - first;
        if (other.start >= from + length) break;
        if (from >= clipEnd(other)) continue;
        place = clipEnd(other) - (start - first);
        moved = true;
      }
    }
  }
  return place;
}

import { clipEnd, type Clip, type Group, type Id, type Project } from '../model';
import { sourceLength } from './clips';

/** The clip with fades no longer than it is. */
function withFades(clip: Clip): Clip {
  const fadeIn = Math.min(clip.fadeIn, clip.length);
  return { ...clip, fadeIn, fadeOut: Math.min(clip.fadeOut, clip.length - fadeIn) };
}

/**
 * Cuts clips in two where a place lies within them. Both parts keep the gain; the second one is new. A fade that the
 * place lies in ends there for its part, as it is drawn from the clip's edge.
 * @param at programme frames
 * @param newId gives an id for each second part
 */
export function splitClips(
  project: Project,
  clipIds: ReadonlySet<Id>,
  at: number,
  newId: (clip: Clip) => Id,
): Project {
  const place = Math.round(at);
  const cut = project.clips.filter(
    (clip) => clipIds.has(clip.id) && clip.start < place && place < clipEnd(clip),
  );
  if (cut.length === 0) return project;
  const ids = new Set(cut.map((clip) => clip.id));
  return {
    ...project,
    clips: [
      ...project.clips.map((clip) =>
        ids.has(clip.id) ? withFades({ ...clip, length: place - clip.start, fadeOut: 0 }) : clip,
      ),
      ...cut.map((clip) =>
        withFades({
          ...clip,
          id: newId(clip),
          start: place,
          length: clipEnd(clip) - place,
          sourceStart: clip.sourceStart + place - clip.start,
          fadeIn: 0,
        }),
      ),
    ],
  };
}

/**
 * Moves one edge of clips to a place, as far as their sources reach; a clip keeps at least one frame. The sound stays
 * where it is.
 * @param at programme frames
 */
export function trimClips(
  project: Project,
  clipIds: ReadonlySet<Id>,
  edge: 'start' | 'end',
  at: number,
): Project {
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  return {
    ...project,
    clips: project.clips.map((clip) => {
      const source = sources.get(clip.sourceId);
      if (!clipIds.has(clip.id) || !source) return clip;
      const most = clip.start - clip.sourceStart + sourceLength(source, project.sampleRate);
      const start =
        edge === 'start'
          ? Math.min(clipEnd(clip) - 1, Math.max(0, clip.start - clip.sourceStart, Math.round(at)))
          : clip.start;
      const end = edge === 'end' ? Math.max(clip.start + 1, Math.min(most, Math.round(at))) : clipEnd(clip);
      if (start === clip.start && end === clipEnd(clip)) return clip;
      return withFades({
        ...clip,
        start,
        length: end - start,
        sourceStart: clip.sourceStart + start - clip.start,
      });
    }),
  };
}

/**
 * Puts copies of clips into the programme, the first of them at a place and the others as far from it as they were. A
 * copy whose track is gone goes to the first one; one whose source is gone is left out. Copies of grouped clips are grouped
 * likewise, apart from the ones they were made of.
 */
export function pasteClips(
  project: Project,
  clips: readonly Clip[],
  at: number,
  newId: (clip: Clip) => Id,
): Project {
  const sources = new Set(project.sources.map(({ id }) => id));
  const tracks = new Set(project.tracks.map(({ id }) => id));
  const [track] = project.tracks;
  const usable = clips.filter((clip) => sources.has(clip.sourceId));
  if (usable.length === 0 || !track) return project;
  const first = usable.reduce((start, clip) => Math.min(start, clip.start), Infinity);
  const shift = Math.max(0, Math.round(at)) - first;
  const groups = new Map(project.groups.map((group) => [group.id, group]));
  const copies = new Map<Id, Group>();
  const groupOf = (groupId: Id | null, clip: Clip): Id | null => {
    const group = groupId === null ? undefined : groups.get(groupId);
    if (!group) return null;
    const known = copies.get(group.id);
    if (known) return known.id;
    const copy = { ...group, id: `${newId(clip)}-group`, parentId: groupOf(group.parentId, clip) };
    copies.set(group.id, copy);
    return copy.id;
  };
  const clipsOfCopies = usable.map((clip) => ({ ...clip, groupId: groupOf(clip.groupId, clip) }));
  return {
    ...project,
    groups: copies.size > 0 ? [...project.groups, ...copies.values()] : project.groups,
    clips: [
      ...project.clips,
      ...clipsOfCopies.map((clip) => ({
        ...clip,
        id: newId(clip),
        trackId: tracks.has(clip.trackId) ? clip.trackId : track.id,
        start: clip.start + shift,
      })),
    ],
  };
}

/** Takes clips out and closes the gaps: on each track what comes later moves up by what was taken out before it. */
export function removeAndClose(project: Project, clipIds: ReadonlySet<Id>): Project {
  const removed = project.clips.filter((clip) => clipIds.has(clip.id));
  return {
    ...project,
    clips: project.clips
      .filter((clip) => !clipIds.has(clip.id))
      .map((clip) => {
        const before = removed.filter((other) => other.trackId === clip.trackId && other.start < clip.start);
        const gap = covered(before, clip.start);
        return gap > 0 ? { ...clip, start: clip.start - gap } : clip;
      }),
  };
}

/** How many frames before `until` lie under clips; where they overlap they count once. */
function covered(clips: readonly Clip[], until: number): number {
  let frames = 0;
  let reached = 0;
  for (const clip of [...clips].sort((a, b) => a.start - b.start)) {
    const end = Math.min(until, clipEnd(clip));
    frames += Math.max(0, end - Math.max(reached, clip.start));
    reached = Math.max(reached, end);
  }
  return frames;
}

import { rateConverter } from '@/core/audio/resample';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { clipEnd, PLAIN_CLIP, type Clip, type Id, type Project, type Source } from '../model';

/** Length of a whole source in programme frames. */
export function sourceLength(source: Source, sampleRate: number): number {
  return source.sampleRate === sampleRate
    ? source.frames
    : rateConverter(source.sampleRate, sampleRate).outputLength(source.frames);
}

/** Where the last clip of a track ends, programme frames. */
export function trackEnd(project: Project, trackId: Id): number {
  return project.clips.reduce(
    (end, clip) => (clip.trackId === trackId ? Math.max(end, clipEnd(clip)) : end),
    0,
  );
}

/** What a clip is made of, and where it is put. */
interface Placement {
  readonly clipId: Id;
  readonly sourceId: Id;
  readonly trackId: Id;
  /** Programme frames. */
  readonly start: number;
  /** A part of the source, seconds of it; all of it when left out. */
  readonly part?: TimeRange | null;
}

/** Makes one clip of a source, or of a part of it. */
export function placeSource(project: Project, spec: Placement): Project {
  const source = project.sources.find((candidate) => candidate.id === spec.sourceId);
  if (!source || !project.tracks.some((track) => track.id === spec.trackId)) return project;
  const whole = sourceLength(source, project.sampleRate);
  const frame = (seconds: number): number =>
    Math.max(0, Math.min(whole, Math.round(seconds * project.sampleRate)));
  const from = spec.part ? Math.min(frame(spec.part.from), whole - 1) : 0;
  const to = spec.part ? Math.max(from + 1, frame(spec.part.to)) : whole;
  const clip: Clip = {
    id: spec.clipId,
    trackId: spec.trackId,
    sourceId: source.id,
    name: source.name.replace(/\.[^.]+$/, ''),
    start: Math.max(0, Math.round(spec.start)),
    length: to - from,
    sourceStart: from,
    ...PLAIN_CLIP,
    trimDb: source.trimDb,
  };
  return { ...project, clips: [...project.clips, clip] };
}

/** Places sources one after the other at the end of a track. */
export function appendSources(
  project: Project,
  trackId: Id,
  placements: readonly { readonly clipId: Id; readonly sourceId: Id }[],
): Project {
  return placements.reduce(
    (current, placement) =>
      placeSource(current, { ...placement, trackId, start: trackEnd(current, trackId) }),
    project,
  );
}

/** By how many tracks clips move so that one of them comes to a track; as far as all of them stay on tracks. */
function tracksMoved(project: Project, clipIds: ReadonlySet<Id>, clipId: Id, trackId: Id): number {
  const index = new Map(project.tracks.map(({ id }, i) => [id, i]));
  const lanes = project.clips.flatMap(({ id, trackId: on }) => (clipIds.has(id) ? [index.get(on)!] : []));
  const grabbed = project.clips.find(({ id }) => id === clipId);
  const to = index.get(trackId);
  if (!grabbed || to === undefined) return 0;
  const highest = lanes.reduce((a, b) => Math.min(a, b), Infinity);
  const lowest = lanes.reduce((a, b) => Math.max(a, b), 0);
  const wanted = to - index.get(grabbed.trackId)!;
  return Math.max(-highest, Math.min(project.tracks.length - 1 - lowest, wanted));
}

/**
 * Moves clips in time, and across tracks if asked, all by as much. Nothing moves before the programme's start, nor past its
 * first or last track: all stop where the first of them reaches it.
 * @param toTrack the clip that was grabbed, and the track it is to come to
 */
export function moveClips(
  project: Project,
  clipIds: ReadonlySet<Id>,
  byFrames: number,
  toTrack?: { readonly clipId: Id; readonly trackId: Id },
): Project {
  const first = project.clips.reduce(
    (least, clip) => (clipIds.has(clip.id) ? Math.min(least, clip.start) : least),
    Infinity,
  );
  if (first === Infinity) return project;
  const shift = Math.max(Math.round(byFrames), -first);
  const lanes = toTrack ? tracksMoved(project, clipIds, toTrack.clipId, toTrack.trackId) : 0;
  const index = new Map(project.tracks.map(({ id }, i) => [id, i]));
  return {
    ...project,
    clips: project.clips.map((clip) =>
      clipIds.has(clip.id)
        ? {
            ...clip,
            start: clip.start + shift,
            trackId: lanes === 0 ? clip.trackId : project.tracks[index.get(clip.trackId)! + lanes]!.id,
          }
        : clip,
    ),
  };
}

/** Takes clips out; the gap stays. */
export function removeClips(project: Project, clipIds: ReadonlySet<Id>): Project {
  return { ...project, clips: project.clips.filter((clip) => !clipIds.has(clip.id)) };
}

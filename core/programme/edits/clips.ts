import { rateConverter } from '@/core/audio/resample';
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

/** Makes one clip of a whole source. */
export function placeSource(
  project: Project,
  spec: { readonly clipId: Id; readonly sourceId: Id; readonly trackId: Id; readonly start: number },
): Project {
  const source = project.sources.find((candidate) => candidate.id === spec.sourceId);
  if (!source || !project.tracks.some((track) => track.id === spec.trackId)) return project;
  const clip: Clip = {
    id: spec.clipId,
    trackId: spec.trackId,
    sourceId: source.id,
    name: source.name.replace(/\.[^.]+$/, ''),
    start: Math.max(0, Math.round(spec.start)),
    length: sourceLength(source, project.sampleRate),
    sourceStart: 0,
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

/**
 * Moves clips in time, and the one that was grabbed to another track if asked. Nothing moves before the programme's
 * start: the whole group stops where its first clip reaches it.
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
  return {
    ...project,
    clips: project.clips.map((clip) =>
      clipIds.has(clip.id)
        ? {
            ...clip,
            start: clip.start + shift,
            trackId: toTrack?.clipId === clip.id ? toTrack.trackId : clip.trackId,
          }
        : clip,
    ),
  };
}

/** Takes clips out; the gap stays. */
export function removeClips(project: Project, clipIds: ReadonlySet<Id>): Project {
  return { ...project, clips: project.clips.filter((clip) => !clipIds.has(clip.id)) };
}

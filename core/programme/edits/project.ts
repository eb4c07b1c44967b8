import type { Layout } from '@/core/audio/layout';
import type { Target } from '@/core/check/target';
import { followTarget } from './check';
import { withoutLoneLinks } from './levels';
import type { Id, Project, Role, Source, Track } from '../model';

/**
 * Adds sources at the end.
 * @param order ids of sources that belong together, some of which may be there already: among each other they come to stand in it
 */
export function addSources(project: Project, sources: readonly Source[], order: readonly Id[] = []): Project {
  const rank = new Map(order.map((id, i) => [id, i]));
  const all = [...project.sources, ...sources];
  const ranked = all
    .filter(({ id }) => rank.has(id))
    .sort((one, other) => rank.get(one.id)! - rank.get(other.id)!);
  let next = 0;
  return { ...project, sources: all.map((source) => (rank.has(source.id) ? ranked[next++]! : source)) };
}

/** Declares how a source's channels stand in the room; what it measures follows from that. */
export function declareLayout(project: Project, sourceId: Id, layout: Layout): Project {
  return {
    ...project,
    sources: project.sources.map((source) => {
      if (source.id !== sourceId) return source;
      const { integrity: all, ...rest } = source;
      if (!all) return { ...source, layout };
      // What was only assumed of its channels is known now.
      const assumed = new Set(
        all.flatMap(({ kind, sentence }) => (kind === 'layoutAssumed' ? [sentence] : [])),
      );
      return {
        ...{ ...rest, layout, integrity: all.filter(({ kind }) => kind !== 'layoutAssumed') },
        warnings: source.warnings.filter((warning) => !assumed.has(warning)),
      };
    }),
  };
}

/** Puts one source in the place of several; those that clips are made from stay beside it. */
export function replaceSources(project: Project, sourceIds: ReadonlySet<Id>, by: Source): Project {
  const used = new Set(project.clips.map((clip) => clip.sourceId));
  const at = project.sources.findIndex((source) => sourceIds.has(source.id));
  const before = project.sources.slice(0, Math.max(0, at));
  const after = project.sources.slice(Math.max(0, at));
  return {
    ...project,
    sources: [...before, by, ...after.filter(({ id }) => !sourceIds.has(id) || used.has(id))],
  };
}

/** Takes sources out, and every clip made from them. */
export function removeSources(project: Project, sourceIds: ReadonlySet<Id>): Project {
  return {
    ...project,
    sources: project.sources.filter((source) => !sourceIds.has(source.id)),
    clips: project.clips.filter((clip) => !sourceIds.has(clip.sourceId)),
  };
}

export function addTrack(project: Project, track: Track): Project {
  return { ...project, tracks: [...project.tracks, track] };
}

/** Takes a track out with its clips. */
export function removeTrack(project: Project, trackId: Id): Project {
  return withoutLoneLinks({
    ...project,
    tracks: project.tracks.filter((track) => track.id !== trackId),
    clips: project.clips.filter((clip) => clip.trackId !== trackId),
  });
}

/** Puts a track in another place among the others. @param to its new index, held within the list */
export function moveTrack(project: Project, trackId: Id, to: number): Project {
  const track = project.tracks.find(({ id }) => id === trackId);
  const others = project.tracks.filter(({ id }) => id !== trackId);
  const at = Math.max(0, Math.min(others.length, to));
  if (!track || project.tracks[at] === track) return project;
  return { ...project, tracks: [...others.slice(0, at), track, ...others.slice(at)] };
}

export function changeTrack(
  project: Project,
  trackId: Id,
  change: { readonly name?: string; readonly role?: Role; readonly muted?: boolean },
): Project {
  return {
    ...project,
    tracks: project.tracks.map((track) => (track.id === trackId ? { ...track, ...change } : track)),
  };
}

export function setTarget(project: Project, target: Target): Project {
  return { ...project, ...followTarget(project, target), target };
}

export function renameProject(project: Project, name: string): Project {
  return { ...project, name };
}

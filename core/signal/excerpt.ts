import { clipEnd, type Clip, type Project } from '@/core/programme/model';
import { heardWithin } from './audible';
import { spanNeeded } from './mix';
import type { Span } from './station';

/**
 * A project with no more clips and sources than sound in a span of frames, its stations' reach included. It is as long as the
 * whole, and rendered or measured there it is the same: little to hand over where only a moment is worked on.
 */
export function excerpt(project: Project, span: Span): Project {
  const kept = new Set<Clip>(heardWithin(project, spanNeeded(project, span)).map(({ clip }) => clip));
  let last: Clip | undefined;
  for (const clip of project.clips) if (!last || clipEnd(clip) > clipEnd(last)) last = clip;
  if (last) kept.add(last);
  const clips = project.clips.filter((clip) => kept.has(clip));
  const used = new Set(clips.map(({ sourceId }) => sourceId));
  return { ...project, clips, sources: project.sources.filter(({ id }) => used.has(id)) };
}

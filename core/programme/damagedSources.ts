import type { Project, Source } from './model';

/** The sources of clips that sound which are not whole or otherwise odd: every figure of the programme rests on them. */
export function damagedSources({ sources, clips, tracks }: Project): Source[] {
  const muted = new Set(tracks.filter((track) => track.muted).map(({ id }) => id));
  const used = new Set(clips.filter(({ trackId }) => !muted.has(trackId)).map(({ sourceId }) => sourceId));
  return sources.filter(({ id, partial, warnings }) => used.has(id) && (partial || warnings.length > 0));
}

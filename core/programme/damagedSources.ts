import type { IntegrityFault } from '@/core/audio/integrity';
import type { Project, Source } from './model';

/** Why the figures of a source cannot be certified; of a project that was stored before that was told apart, all that is odd about it. */
export const sourceFaults = ({ integrity, warnings }: Source): readonly IntegrityFault[] =>
  integrity ?? warnings.map((sentence) => ({ kind: 'damaged', sentence }));

/** The sources of clips that sound which are not whole or otherwise odd: every figure of the programme rests on them. */
export function damagedSources({ sources, clips, tracks }: Project): Source[] {
  const muted = new Set(tracks.filter((track) => track.muted).map(({ id }) => id));
  const used = new Set(clips.filter(({ trackId }) => !muted.has(trackId)).map(({ sourceId }) => sourceId));
  return sources.filter((source) => used.has(source.id) && sourceFaults(source).length > 0);
}

/** Why the figures of a programme cannot be certified: differences from its timeline, and faults of the sources it uses. */
export const programmeFaults = (project: Project): IntegrityFault[] => [
  ...(project.clips.length > 0 ? project.cutFaults : []),
  ...damagedSources(project).flatMap((source) =>
    sourceFaults(source).map(({ kind, sentence }) => ({ kind, sentence: `${source.name}: ${sentence}` })),
  ),
];

import type { Id, Project, Source } from './model';
import { clock } from '@/core/text/figures';

/** What can be compared of a file that may be a source that lost its sound. */
export interface Candidate {
  readonly source: Source;
  /** Whether its content is that of the lost one; `null` when nothing is known of that. */
  readonly sameContent: boolean | null;
}

/** In what a file differs from the source it is to stand for, each in a few words; nothing when it is the same. */
export function differencesOf(lost: Source, { source, sameContent }: Candidate): string[] {
  const length = ({ frames, sampleRate }: Source): string => clock(frames / sampleRate, 3);
  return [
    ...(source.name === lost.name ? [] : [`it is called ${source.name}`]),
    ...(source.sampleRate === lost.sampleRate
      ? []
      : [`${source.sampleRate} Hz in place of ${lost.sampleRate} Hz`]),
    ...(source.layout.labels.length === lost.layout.labels.length
      ? []
      : [`${source.layout.name} in place of ${lost.layout.name}`]),
    ...(source.frames / source.sampleRate === lost.frames / lost.sampleRate
      ? []
      : [`${length(source)} long in place of ${length(lost)}`]),
    ...(sameContent === false ? ['it sounds different'] : []),
  ];
}

/** Whether a file is the lost source for sure: only its name may be another. */
export const isTheSame = (lost: Source, candidate: Candidate): boolean =>
  candidate.sameContent !== false &&
  differencesOf({ ...lost, name: candidate.source.name }, candidate).length === 0 &&
  (candidate.sameContent === true || candidate.source.name === lost.name);

/** The lost source that a file is meant for: by its name, else by its size; `null` when none fits. */
export function lostSourceFor(
  file: { readonly name: string; readonly size: number },
  lost: readonly Source[],
): Source | null {
  const plain = (name: string): string => name.normalize('NFC').toLowerCase();
  const named = lost.filter(({ name }) => plain(name) === plain(file.name));
  const sized = (named.length > 0 ? named : lost).filter(({ byteLength }) => byteLength === file.size);
  return sized[0] ?? named[0] ?? null;
}

/** Puts the sound of a file in the place of a source's: its clips, their gains, its trim and its folder stay. */
export function relinkSource(project: Project, sourceId: Id, file: Source): Project {
  return {
    ...project,
    sources: project.sources.map((source) => {
      if (source.id !== sourceId) return source;
      const { id, folder, speech, trimDb } = source;
      return { ...file, id, folder, speech, trimDb };
    }),
  };
}

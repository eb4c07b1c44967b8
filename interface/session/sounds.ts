import { programmeFrames, type Clip, type Project, type Source } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { getAudio, keepAudioAgain } from '@/storage/audio';
import { storageError } from '@/storage/failure';
import type { Failure } from '@/engine/protocol';

/** What the sound of sources needs of its session. */
interface Host {
  readonly put: (audioKey: string, blob: Blob) => void;
  readonly has: (audioKey: string) => boolean;
}

/** Sources whose sound is not there: not in this browser at all, or there but not to be read. */
export interface Absent {
  readonly missing: ReadonlySet<string>;
  /** Why the browser could not read it, by audio key. */
  readonly unread: ReadonlyMap<string, Failure>;
}

/** Whether a sound is not there, by its audio key. */
export const isAbsent = ({ missing, unread }: Absent, audioKey: string): boolean =>
  missing.has(audioKey) || unread.has(audioKey);

export const NOTHING_ABSENT: Absent = { missing: new Set(), unread: new Map() };

/** Fetches the sound of sources, each once. @returns those that could not be fetched */
export async function fetchSounds(sources: readonly Source[], { put, has }: Host): Promise<Absent> {
  const missing = new Set<string>();
  const unread = new Map<string, Failure>();
  const keys = new Set(sources.map(({ audioKey }) => audioKey));
  await Promise.all(
    [...keys].map(async (audioKey) => {
      if (has(audioKey)) return;
      try {
        const blob = await getAudio(audioKey);
        if (blob) put(audioKey, blob);
        else missing.add(audioKey);
      } catch (error) {
        unread.set(audioKey, storageError(error));
      }
    }),
  );
  return { missing, unread };
}

/**
 * Finds sound that the browser has cleared while it was in use, and keeps again what can still be read.
 * @returns the audio keys of what is lost
 */
export async function lostSounds(
  sources: readonly Source[],
  audioOf: (audioKey: string) => Blob | undefined,
): Promise<readonly string[]> {
  const held = [...new Set(sources.map(({ audioKey }) => audioKey))].flatMap((audioKey) => {
    const blob = audioOf(audioKey);
    return blob ? [{ audioKey, blob }] : [];
  });
  const [first] = held;
  // A site's data goes all at once: one of them tells of all.
  if (!first || (await getAudio(first.audioKey))) return [];
  const kept = await Promise.all(held.map(({ audioKey, blob }) => keepAudioAgain(audioKey, blob)));
  return held.flatMap(({ audioKey }, i) => (kept[i] ? [] : [audioKey]));
}

/** Why a project that is stored cannot be opened again as it is: the browser has cleared the sound of some sources. */
export function lostFailure(sources: readonly Source[], lost: ReadonlySet<string>): Failure | null {
  const names = sources.flatMap(({ audioKey, name }) => (lost.has(audioKey) ? [name] : []));
  if (names.length === 0) return null;
  return {
    code: 'soundLost',
    message: `The browser has deleted the stored sound of ${count(names.length, 'source')}: ${names.slice(0, 5).join(', ')}${names.length > 5 ? ' …' : ''}.`,
    hint: 'Save the project as a file, and relink the sources in Sources.',
  };
}

/** Whether a clip would be heard if its sound were there: its track sounds, and it has a length. */
const isAudible = (project: Project): ((clip: Clip) => boolean) => {
  const muted = new Set(project.tracks.filter((track) => track.muted).map(({ id }) => id));
  return (clip) => !muted.has(clip.trackId) && clip.length > 0;
};

/** Clips that belong to the programme and are in none of its figures, because their sound is not there. */
export interface LeftOut {
  readonly clips: readonly Clip[];
  /** Names of the sources. */
  readonly sources: readonly string[];
}

/** What the figures of a programme leave out. @param isThere whether a sound is there, by its audio key */
export function leftOut(project: Project, isThere: (audioKey: string) => boolean): LeftOut {
  const gone = new Map(
    project.sources.flatMap((source) => (isThere(source.audioKey) ? [] : [[source.id, source] as const])),
  );
  if (gone.size === 0 || programmeFrames(project) === 0) return { clips: [], sources: [] };
  const audible = isAudible(project);
  const clips = project.clips.filter((clip) => gone.has(clip.sourceId) && audible(clip));
  const used = new Set(clips.map(({ sourceId }) => sourceId));
  return { clips, sources: [...gone.values()].flatMap(({ id, name }) => (used.has(id) ? [name] : [])) };
}

/** The programme with the clips whose sound is there; the others cannot be rendered. */
export function withSound(project: Project, has: (audioKey: string) => boolean): Project {
  const there = new Set(project.sources.filter(({ audioKey }) => has(audioKey)).map(({ id }) => id));
  return { ...project, clips: project.clips.filter(({ sourceId }) => there.has(sourceId)) };
}

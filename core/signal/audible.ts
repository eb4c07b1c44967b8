import { bisectRight } from 'd3-array';
import { totalDbOf } from '@/core/programme/clipGain';
import { clipEnd, type Clip, type Id, type Project, type Source, type Track } from '@/core/programme/model';
import { clipSoundsOf, type ClipSound } from './clipSound';
import type { Span } from './station';
import { trackSound, type TrackSound } from './trackSound';

/** A clip that sounds, with all that its sound depends on, and the track that it goes through. */
export interface Heard {
  readonly clip: Clip;
  /** `null` when its source is gone. */
  readonly source: Source | null;
  readonly sound: ClipSound | null;
  readonly track: Track;
  readonly bus: TrackSound;
}

interface Audible {
  readonly heard: readonly Heard[];
  readonly clips: readonly Clip[];
  readonly byId: ReadonlyMap<Id, Heard>;
  /** For each clip, where the last of it and those before it ends. */
  readonly ends: Float64Array;
}

const known = new WeakMap<Project, Audible>();

function audible(project: Project): Audible {
  const made = known.get(project) ?? findAudible(project);
  known.set(project, made);
  return made;
}

function findAudible(project: Project): Audible {
  const tracks = new Map(project.tracks.filter(({ muted }) => !muted).map((track) => [track.id, track]));
  const sources = new Map(project.sources.map((source) => [source.id, source]));
  const soundOf = clipSoundsOf(project);
  const totalDb = totalDbOf(project);
  const name = ({ sourceId }: Clip): string => sources.get(sourceId)?.name ?? '';
  const clips = project.clips
    .filter((clip) => tracks.has(clip.trackId))
    .sort(
      (a, b) =>
        a.start - b.start ||
        a.length - b.length ||
        a.sourceStart - b.sourceStart ||
        (name(a) < name(b) ? -1 : name(a) > name(b) ? 1 : 0) ||
        totalDb(a) - totalDb(b),
    );
  const heard = clips.map((clip): Heard => {
    const source = sources.get(clip.sourceId) ?? null;
    const track = tracks.get(clip.trackId)!;
    return { clip, source, sound: soundOf(clip), track, bus: trackSound(project, track) };
  });
  const ends = new Float64Array(clips.length);
  clips.forEach((clip, i) => (ends[i] = Math.max(clipEnd(clip), ends[i - 1] ?? 0)));
  return { heard, clips, ends, byId: new Map(heard.map((one) => [one.clip.id, one])) };
}

/**
 * Which clips sound: those on tracks that are not muted, in the order in which they are added up. Sums of samples depend
 * on their order by a last bit, so it is one that a clip's place and sound decide, not the history of the project: a cut
 * that went out and came back gives the same file.
 */
export const audibleClips = (project: Project): readonly Clip[] => audible(project).clips;

/** The same with all that their sound depends on, by their ids. */
export const heardClips = (project: Project): ReadonlyMap<Id, Heard> => audible(project).byId;

/** Those that sound somewhere in a span of frames, in the same order. */
export function heardWithin(project: Project, { from, to }: Span): Heard[] {
  const { heard, ends } = audible(project);
  // Everything before the first end behind `from` has ended.
  const first = bisectRight(ends, from);
  const found: Heard[] = [];
  for (let i = first; i < heard.length && heard[i]!.clip.start < to; i++)
    if (clipEnd(heard[i]!.clip) > from) found.push(heard[i]!);
  return found;
}

import type { Layout } from '@/core/audio/layout';
import { groupDbOf } from '@/core/programme/groups';
import {
  PLAIN_CLIP,
  type Clip,
  type Id,
  type MonoLaw,
  type Project,
  type Source,
} from '@/core/programme/model';

/** Of a clip, what a station may read. */
type Sounding = Omit<Clip, 'id' | 'trackId' | 'sourceId'>;

/** A clip with all that its own sound depends on: what the stations of its path read. Plain data, also for workers. */
export interface ClipSound {
  readonly clip: Sounding;
  readonly audioKey: string;
  /** How the source's channels are said to stand. */
  readonly sourceLayout: Layout;
  /** Of the programme. */
  readonly sampleRate: number;
  readonly layoutId: string;
  readonly monoLaw: MonoLaw;
  /** The gain of all groups that it is in, dB. */
  readonly groupsDb: number;
}

const known = new WeakMap<Clip, { readonly of: readonly unknown[]; readonly sound: ClipSound | null }>();

/** What of a project the sound of a clip depends on, besides the clip. */
const around = ({ sources, sampleRate, layoutId, monoLaw, groups }: Project): readonly unknown[] => [
  sources,
  sampleRate,
  layoutId,
  monoLaw,
  groups,
];

const perProject = new WeakMap<Project, (clip: Clip) => ClipSound | null>();

/**
 * What the clips of a project sound like; `null` for one whose source is gone. The same clip in the same surroundings is the
 * same object.
 */
export function clipSoundsOf(project: Project): (clip: Clip) => ClipSound | null {
  const made = perProject.get(project) ?? makeSounds(project);
  perProject.set(project, made);
  return made;
}

function makeSounds(project: Project): (clip: Clip) => ClipSound | null {
  const sources = new Map<Id, Source>(project.sources.map((source) => [source.id, source]));
  const groups = groupDbOf(project);
  const of = around(project);
  const { sampleRate, layoutId, monoLaw } = project;
  return (clip) => {
    const last = known.get(clip);
    if (last && of.every((value, i) => value === last.of[i])) return last.sound;
    const source = sources.get(clip.sourceId);
    const groupsDb = clip.groupId === null ? 0 : groups(clip.groupId);
    const sound = source
      ? {
          clip,
          ...{ audioKey: source.audioKey, sourceLayout: source.layout },
          ...{ sampleRate, layoutId, monoLaw, groupsDb },
        }
      : null;
    known.set(clip, { of, sound });
    return sound;
  };
}

/** What a clip sounds like; `null` when its source is gone. */
export const clipSound = (project: Project, clip: Clip): ClipSound | null => clipSoundsOf(project)(clip);

/** A whole source as a clip in a programme of its own rate and layout. */
export function wholeSource({ audioKey, name, frames, sampleRate, layout }: Source): ClipSound {
  return {
    clip: { ...PLAIN_CLIP, name, start: 0, length: frames, sourceStart: 0 },
    audioKey,
    sourceLayout: layout,
    sampleRate,
    layoutId: layout.id,
    monoLaw: 'constantPower',
    groupsDb: 0,
  };
}

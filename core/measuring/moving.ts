import type { GainRoom } from '@/core/programme/clipGain';
import { clipEnd, programmeFrames, type Clip, type Id, type Project } from '@/core/programme/model';
import { soundDifferences } from '@/core/signal/differences';
import { audibleClips, heardClips } from '@/core/signal/audible';
import { CLIP_LEVEL, PROGRAMME_PATH, TRACK_PATH } from '@/core/signal/path';
import { isLinear } from '@/core/signal/station';
import { addRange, removeRange, touchedBlocks, type SubBlockRange } from './dirtyRanges';
import { statesAround, type MovingLaw, type StatesLaw } from './movingLaw';

/** What a drag moves in a programme, see {@link MovingLaw}. */
export type Moving =
  | { readonly kind: 'gain'; readonly ids: ReadonlySet<Id> }
  | {
      readonly kind: 'states';
      readonly law: StatesLaw;
      /** The clips that move, in each state. */
      readonly states: readonly (readonly Clip[])[];
    };

/** Whether the same clips are meant. */
export const sameIds = (a: ReadonlySet<Id>, b: ReadonlySet<Id>): boolean =>
  a === b || (a.size === b.size && [...a].every((id) => b.has(id)));

/** Which clips move. */
export const movingIds = (moving: Moving): ReadonlySet<Id> =>
  moving.kind === 'gain' ? moving.ids : new Set(moving.states[0]!.map(({ id }) => id));

export const lawOf = (moving: Moving): MovingLaw => (moving.kind === 'gain' ? { kind: 'gain' } : moving.law);

/**
 * What moves when an edit moves the level of parts of clips by up to a change, and by none outside them.
 * @param edit the project with a change of so many dB: within `room` none of it stops short
 * @param aroundDb the change around which it is wanted
 * @returns `null` where nothing can move
 */
export function movingStates(
  project: Project,
  edit: (changeDb: number) => Project,
  aroundDb: number,
  room: GainRoom,
): Moving | null {
  const law = statesAround(aroundDb, room);
  if (!law) return null;
  const projects = law.changesDb.map(edit);
  const before = new Map(project.clips.map((clip) => [clip.id, clip]));
  const changed = projects.map(
    ({ clips }) => new Set(clips.filter((clip) => before.get(clip.id) !== clip).map(({ id }) => id)),
  );
  const ids = new Set(changed.flatMap((some) => [...some]));
  if (ids.size === 0) return null;
  const states = projects.map(({ clips }) => clips.filter(({ id }) => ids.has(id)));
  return { kind: 'states', law, states };
}

/** A project with some of its clips as they are in another state. */
function withClips(project: Project, changed: readonly Clip[]): Project {
  const byId = new Map(changed.map((clip) => [clip.id, clip]));
  return { ...project, clips: project.clips.map((clip) => byId.get(clip.id) ?? clip) };
}

/** Whether all that these clips go through gives out the sum of what goes in, so that what moves can be measured apart. */
export function movesLinearly(project: Project, ids: ReadonlySet<Id>): boolean {
  if (!isLinear(PROGRAMME_PATH, project)) return false;
  return [...heardClips(project).values()].every(
    ({ clip, sound, bus }) =>
      !ids.has(clip.id) || ((!sound || isLinear(CLIP_LEVEL, sound)) && isLinear(TRACK_PATH, bus)),
  );
}

/**
 * The sub-blocks that what moves can change, until the filters have settled after it, in whole peak blocks, in order; empty
 * when none of it sounds.
 */
export function movingRanges(project: Project, moving: Moving): SubBlockRange[] {
  const { sampleRate } = project;
  const frames = programmeFrames(project);
  const ids = movingIds(moving);
  const spans =
    moving.kind === 'gain'
      ? audibleClips(project)
          .filter(({ id }) => ids.has(id))
          .map((clip) => ({ from: clip.start, to: clipEnd(clip) }))
      : differencesOfStates(project, moving.states);
  return spans.reduce<SubBlockRange[]>(
    (ranges, span) => addRange(ranges, touchedBlocks(span, sampleRate, frames)),
    [],
  );
}

/** Of ranges where something moves, those where nothing else is heard, and the others, each in order. */
export function apartAlone(
  project: Project,
  ids: ReadonlySet<Id>,
  ranges: readonly SubBlockRange[],
): { readonly alone: readonly SubBlockRange[]; readonly beside: readonly SubBlockRange[] } {
  const { sampleRate } = project;
  const frames = programmeFrames(project);
  const others = audibleClips(project)
    .filter(({ id }) => !ids.has(id))
    .reduce<SubBlockRange[]>(
      (heard, clip) =>
        addRange(heard, touchedBlocks({ from: clip.start, to: clipEnd(clip) }, sampleRate, frames)),
      [],
    );
  const alone = others.reduce<readonly SubBlockRange[]>(removeRange, ranges);
  return { alone, beside: alone.reduce<readonly SubBlockRange[]>(removeRange, ranges) };
}

/** What differs between the outermost states. */
function differencesOfStates(project: Project, states: readonly (readonly Clip[])[]) {
  const [low, high] = [states[0]!, states.at(-1)!].map((clips) => withClips(project, clips));
  return soundDifferences(low!, high!);
}

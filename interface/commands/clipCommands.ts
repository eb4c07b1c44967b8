import { moveClips, removeClips } from '@/core/programme/edits/clips';
import { groupClips, ungroup } from '@/core/programme/edits/groups';
import { heldByUngrouping } from '@/core/programme/heldChange';
import { outermostOf } from '@/core/programme/groups';
import { clipEnd, type Clip, type Id, type Project } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { deletePoints, selectedPoints } from '../programme/points/pointActions';
import { cutActions } from '../programme/cutActions';
import { newId } from '../session/newId';
import { burstKey } from './burst';
import type { Command, CommandPlace } from './command';

/** Clips in the order they are met from left to right, then from top to bottom. */
export function inTimeOrder(project: Project): Id[] {
  const lanes = new Map(project.tracks.map((track, index) => [track.id, index]));
  return [...project.clips]
    .sort((a, b) => a.start - b.start || (lanes.get(a.trackId) ?? 0) - (lanes.get(b.trackId) ?? 0))
    .map((clip) => clip.id);
}

function move({ session, ids }: CommandPlace, direction: 1 | -1): void {
  const by = direction * 0.1 * session.project.sampleRate;
  session.do(
    `Move ${count(ids.size, 'clip')}`,
    (project) => moveClips(project, ids, by),
    burstKey(`move ${[...ids].join()}`),
  );
}

/** Goes to the clip before or after the one that has the focus, adding it to the choice if asked. */
function walk({ session, stage, ids, focused }: CommandPlace, direction: 1 | -1, add: boolean): void {
  const order = stage?.order?.() ?? inTimeOrder(session.project);
  // From what has the focus, where that is meant; else from the end of what is selected.
  const meant = order.filter((id) => ids.has(id));
  const from =
    focused !== null && (ids.size === 0 || ids.has(focused)) ? focused : meant.at(direction > 0 ? -1 : 0);
  const next = order[from === undefined ? 0 : order.indexOf(from) + direction];
  if (!next) return;
  session.select(add ? [...ids, next] : [next]);
  stage?.focusClip(next);
}

function remove({ session, ids }: CommandPlace): void {
  const points = selectedPoints(session);
  if (points) return deletePoints(session, points.owner, points.places);
  session.do(`Remove ${count(ids.size, 'clip')}`, (project) => removeClips(project, ids));
}

function group({ session, ids }: CommandPlace): void {
  session.do(`Group ${count(ids.size, 'clip')}`, (project) =>
    groupClips(project, ids, newId(), `Group ${project.groups.length + 1}`),
  );
}

function takeApart({ session, ids }: CommandPlace): void {
  const outermost = outermostOf(session.project);
  const groups = new Set<Id>();
  for (const clip of session.project.clips) {
    const found = ids.has(clip.id) ? outermost(clip) : null;
    if (found) groups.add(found.id);
  }
  const { project: before } = session;
  session.do(`Ungroup ${count(groups.size, 'group')}`, (project) => ungroup(project, groups));
  const held = heldByUngrouping(before, session.project);
  if (held.length > 0)
    session.notes.tell(
      `${held.join(', ')} cannot take over all of the group’s gain: a clip’s gain goes from −72 to +48 dB.`,
    );
}

/** Chooses every clip that has something in common with one that is meant. */
function chooseAlike({ session, ids }: CommandPlace, common: (clip: Clip) => unknown): void {
  const { clips } = session.project;
  const wanted = new Set(clips.filter((clip) => ids.has(clip.id)).map(common));
  session.select(clips.filter((clip) => wanted.has(common(clip))).map((clip) => clip.id));
}

const alike = (
  id: string,
  key: string,
  what: string,
  common: (project: Project) => (clip: Clip) => unknown,
): Command => ({
  id: `select-${id}`,
  group: 'Select',
  name: `Select all of the same ${what}`,
  keys: [key],
  needs: 'selected',
  run: (place) => chooseAlike(place, common(place.session.project)),
});

const roleOf = ({ tracks }: Project) => {
  const roles = new Map(tracks.map(({ id, role }) => [id, role]));
  return ({ trackId }: Clip): unknown => roles.get(trackId);
};

const onSelected = (
  id: string,
  name: string,
  keys: readonly string[],
  run: (place: CommandPlace) => void,
): Command => ({ id, group: 'Clips', name, keys, needs: 'selected', run });

const chooseStep = (way: 'before' | 'after', add: boolean): Command => ({
  id: `select-${way}${add ? '-add' : ''}`,
  group: 'Select',
  name: `${add ? 'Select the clip' : 'Go to the clip'} ${way}${add ? ' as well' : ''}`,
  keys: [`${add ? 'Shift+' : ''}Arrow${way === 'before' ? 'Left' : 'Right'}`],
  onClip: true,
  needs: 'clips',
  run: (place) => walk(place, way === 'before' ? -1 : 1, add),
});

/** What is done to clips, and which of them are chosen. */
export const clipCommands: readonly Command[] = [
  onSelected('split', 'Split at the playhead', ['/'], ({ session, ids }) => cutActions.split(session, ids)),
  {
    ...onSelected('split-range', 'Split at the ends of the range', ['\\'], ({ session, ids }) =>
      cutActions.splitAtRange(session, ids),
    ),
    needs: 'part',
  },
  onSelected('trim-start', 'Trim the start to the playhead', ['('], ({ session, ids }) =>
    cutActions.trim(session, ids, 'start'),
  ),
  onSelected('trim-end', 'Trim the end to the playhead', [')'], ({ session, ids }) =>
    cutActions.trim(session, ids, 'end'),
  ),
  {
    ...onSelected('earlier', 'Move 0.1 s earlier', ['Alt+ArrowLeft'], (place) => move(place, -1)),
    onClip: true,
  },
  { ...onSelected('later', 'Move 0.1 s later', ['Alt+ArrowRight'], (place) => move(place, 1)), onClip: true },
  onSelected('copy', 'Copy', ['Ctrl+c'], ({ session, ids }) => cutActions.copy(session, ids)),
  onSelected('cut', 'Cut', ['Ctrl+x'], ({ session, ids }) => cutActions.cut(session, ids)),
  {
    id: 'paste',
    group: 'Clips',
    name: 'Paste at the playhead',
    keys: ['Ctrl+v'],
    needs: 'stage',
    run: ({ session }) => cutActions.paste(session),
  },
  onSelected('duplicate', 'Duplicate', ['Ctrl+d'], ({ session, ids }) => cutActions.duplicate(session, ids)),
  {
    ...onSelected(
      'remove',
      'Remove selected points, else clips; the gap stays',
      ['Delete', 'Backspace'],
      remove,
    ),
    needs: 'selected or points',
  },
  onSelected(
    'remove-close',
    'Remove and close the gap',
    ['Shift+Delete', 'Shift+Backspace'],
    ({ session, ids }) => cutActions.removeAndClose(session, ids),
  ),
  onSelected('group', 'Group the selected clips', ['g'], group),
  onSelected('ungroup', 'Ungroup', ['Shift+G'], takeApart),
  {
    id: 'select-all',
    group: 'Select',
    name: 'Select all clips',
    keys: ['Ctrl+a'],
    needs: 'clips',
    run: ({ session }) => session.select(session.project.clips.map((clip) => clip.id)),
  },
  {
    id: 'select-range',
    group: 'Select',
    name: 'Select all in the range',
    keys: ['Ctrl+Shift+a'],
    needs: 'range',
    run: ({ session }) => {
      const { range } = session.state;
      const inside = session.project.clips.filter(
        (clip) => range && clip.start < range.to && clipEnd(clip) > range.from,
      );
      session.select(inside.map((clip) => clip.id));
    },
  },
  {
    id: 'select-none',
    group: 'Select',
    name: 'Select nothing',
    keys: ['Escape'],
    needs: 'selected',
    run: ({ session }) => session.select([]),
  },
  alike(
    'track',
    'Shift+T',
    'track',
    () =>
      ({ trackId }) =>
        trackId,
  ),
  alike(
    'source',
    'Shift+S',
    'source',
    () =>
      ({ sourceId }) =>
        sourceId,
  ),
  alike('role', 'Shift+O', 'role', roleOf),
  ...(['before', 'after'] as const).flatMap((way) => [chooseStep(way, false), chooseStep(way, true)]),
];

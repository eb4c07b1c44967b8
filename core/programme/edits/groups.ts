import { clampGain, MAX_GROUP_GAIN_DB, type GainEntry } from '../gainField';
import { outermostOf, wholeGroup } from '../groups';
import { AS_RECORDED, type ClipGain, type Group, type Id, type Project } from '../model';
import { changeGain, resetGain, takenOff } from './gain';

const byHand = (before: ClipGain, db: number): ClipGain => {
  const next = Math.min(MAX_GROUP_GAIN_DB, Math.max(-MAX_GROUP_GAIN_DB, db));
  return { db: next, lastChangeDb: next - before.db, reason: { kind: 'byHand' } };
};

/**
 * Makes one of several clips; whole groups among them are nested in it. Fewer than two things make no group.
 * @param clipIds with every clip that is grouped with one of them, see `withGroups`
 */
export function groupClips(project: Project, clipIds: ReadonlySet<Id>, id: Id, name: string): Project {
  const outermost = outermostOf(project);
  const groups = new Set<Id>();
  const clips = new Set<Id>();
  for (const clip of project.clips) {
    if (!clipIds.has(clip.id)) continue;
    const group = outermost(clip);
    if (group) groups.add(group.id);
    else clips.add(clip.id);
  }
  if (groups.size + clips.size < 2) return project;
  const group: Group = { id, name, parentId: null, gain: AS_RECORDED };
  return {
    ...project,
    groups: [
      ...project.groups.map((other) => (groups.has(other.id) ? { ...other, parentId: id } : other)),
      group,
    ],
    clips: project.clips.map((clip) => (clips.has(clip.id) ? { ...clip, groupId: id } : clip)),
  };
}

/** Takes groups apart: what was in them stands by itself again, or in the group around it, and carries their gain on. */
export function ungroup(project: Project, groupIds: ReadonlySet<Id>): Project {
  return project.groups
    .filter(({ id }) => groupIds.has(id))
    .reduce((state, { id }) => takeApart(state, id), project);
}

function takeApart(project: Project, groupId: Id): Project {
  // As it stands now: a group around it may have been taken apart just before.
  const outer = project.groups.find(({ id }) => id === groupId)!;
  const carried = (gain: ClipGain): ClipGain => {
    if (outer.gain.db === 0) return gain;
    const db = clampGain(gain.db + outer.gain.db);
    return { db, lastChangeDb: db - gain.db, reason: outer.gain.reason };
  };
  return {
    ...project,
    groups: project.groups
      .filter(({ id }) => id !== groupId)
      .map((group) =>
        group.parentId === groupId
          ? { ...group, parentId: outer.parentId, gain: carried(group.gain) }
          : group,
      ),
    clips: project.clips.map((clip) =>
      clip.groupId === groupId ? { ...clip, groupId: outer.parentId, gain: carried(clip.gain) } : clip,
    ),
  };
}

/**
 * Sets or changes the level of clips by hand: the gain of a group when they are just a whole group, else their own.
 */
export function changeLevel(project: Project, clipIds: ReadonlySet<Id>, entry: GainEntry): Project {
  const group = wholeGroup(project, clipIds);
  if (!group) return changeGain(project, clipIds, entry);
  const gain = byHand(group.gain, entry.kind === 'set' ? entry.db : group.gain.db + entry.db);
  if (gain.db === group.gain.db) return project;
  return {
    ...project,
    groups: project.groups.map((other) => (other.id === group.id ? { ...other, gain } : other)),
  };
}

/** Puts clips back to the gain they were recorded with, and the group that they are. */
export function resetLevel(project: Project, clipIds: ReadonlySet<Id>): Project {
  const group = wholeGroup(project, clipIds);
  const reset = resetGain(project, clipIds);
  if (!group) return reset;
  return {
    ...reset,
    groups: reset.groups.map((other) =>
      other.id === group.id ? { ...other, gain: takenOff(other.gain) } : other,
    ),
  };
}

export function renameGroup(project: Project, groupId: Id, name: string): Project {
  return {
    ...project,
    groups: project.groups.map((group) => (group.id === groupId ? { ...group, name } : group)),
  };
}

/** Removes groups that hold nothing any more. */
export function withoutEmptyGroups(project: Project): Project {
  let { groups } = project;
  for (;;) {
    const used = new Set([
      ...project.clips.map(({ groupId }) => groupId),
      ...groups.map(({ parentId }) => parentId),
    ]);
    const left = groups.filter(({ id }) => used.has(id));
    if (left.length === groups.length) break;
    groups = left;
  }
  return groups.length === project.groups.length ? project : { ...project, groups };
}

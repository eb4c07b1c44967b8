import type { Clip, Group, Id, Project } from './model';

/** The gain of each group with those of all it is nested in, dB. */
export function groupDbOf({ groups }: Project): (groupId: Id) => number {
  const byId = new Map(groups.map((group) => [group.id, group]));
  const known = new Map<Id, number>();
  const sum = (id: Id): number => {
    const done = known.get(id);
    if (done !== undefined) return done;
    const group = byId.get(id);
    const db = group ? group.gain.db + (group.parentId === null ? 0 : sum(group.parentId)) : 0;
    known.set(id, db);
    return db;
  };
  return sum;
}

/** The outermost group of each clip; `null` for one that stands by itself. */
export function outermostOf({ groups }: Project): (clip: Pick<Clip, 'groupId'>) => Group | null {
  const byId = new Map(groups.map((group) => [group.id, group]));
  return ({ groupId }) => {
    let group = groupId === null ? undefined : byId.get(groupId);
    while (group && group.parentId !== null) group = byId.get(group.parentId);
    return group ?? null;
  };
}

/** These clips and all that are grouped with one of them. */
export function withGroups(project: Project, clipIds: ReadonlySet<Id>): ReadonlySet<Id> {
  if (project.groups.length === 0) return clipIds;
  const outermost = outermostOf(project);
  const touched = new Set<Id>();
  for (const clip of project.clips) {
    const group = clipIds.has(clip.id) ? outermost(clip) : null;
    if (group) touched.add(group.id);
  }
  if (touched.size === 0) return clipIds;
  const all = new Set(clipIds);
  for (const clip of project.clips) {
    const group = outermost(clip);
    if (group && touched.has(group.id)) all.add(clip.id);
  }
  return all;
}

/** The group that just these clips are, all of them; `null` when they are none. */
export function wholeGroup(project: Project, clipIds: ReadonlySet<Id>): Group | null {
  if (project.groups.length === 0 || clipIds.size === 0) return null;
  const outermost = outermostOf(project);
  const chosen = new Set<Group | null>();
  for (const clip of project.clips) if (clipIds.has(clip.id)) chosen.add(outermost(clip));
  const [group] = chosen;
  if (chosen.size !== 1 || !group) return null;
  const members = project.clips.filter((clip) => outermost(clip) === group);
  return members.length === clipIds.size ? group : null;
}

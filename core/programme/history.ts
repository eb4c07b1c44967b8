import { applyPatches, enablePatches, freeze, type Patch } from 'immer';
import type { Project } from './model';

enablePatches();

/** One named thing the editor did, and how to take it back. */
export interface Step {
  readonly name: string;
  readonly redo: readonly Patch[];
  readonly undo: readonly Patch[];
  /** Steps in a row with the same word here are one step: files that come in one by one, a key held down. */
  readonly merge: string | null;
  /** When it was done, ms since 1970; `null` when nobody said. */
  readonly at: number | null;
}

/** A project with what was done to it. */
export interface History {
  readonly project: Project;
  /** Oldest first. */
  readonly past: readonly Step[];
  /** Next to redo first. */
  readonly future: readonly Step[];
}

/** Steps that can be taken back. */
export const HISTORY_LIMIT = 300;

export function startHistory(project: Project): History {
  return { project, past: [], future: [] };
}

type Keyed = { readonly id: string };

type PlainPatches = { readonly redo: Patch[]; readonly undo: Patch[] };

/** How a record at a place of a list became another, field by field: the rest of it need not be held twice a step. */
function recordPatches(key: string, index: number, before: Keyed, after: Keyed): PlainPatches {
  const [old, now] = [before, after] as unknown as readonly Readonly<Record<string, unknown>>[];
  const fields = Object.keys(now!);
  const put = (path: (string | number)[], value: unknown): Patch => ({ op: 'replace', path, value });
  // Stored sound is looked for by the records of its sources, in steps too: those stay whole.
  const whole = key === 'sources' || fields.length !== Object.keys(old!).length;
  if (whole || !fields.every((field) => field in old!))
    return { redo: [put([key, index], after)], undo: [put([key, index], before)] };
  const changed = fields.filter((field) => old![field] !== now![field]);
  return {
    redo: changed.map((field) => put([key, index, field], now![field])),
    undo: changed.map((field) => put([key, index, field], old![field])),
  };
}

/** How records that stayed where they are became others. */
function changesOf(key: string, before: readonly Keyed[], after: readonly Keyed[]): PlainPatches {
  const changed = before.flatMap((item, index) =>
    item === after[index] ? [] : [recordPatches(key, index, item, after[index]!)],
  );
  return { redo: changed.flatMap(({ redo }) => redo), undo: changed.flatMap(({ undo }) => undo) };
}

/**
 * How a list of records became another, as patches: what was taken out, what differs, what was put in. Edits are plain
 * functions that give back new arrays: replacing an array of thousands for one clip would make every step weigh as much.
 * @returns `null` when records that stayed changed their order
 */
function listPatches(key: string, before: readonly Keyed[], after: readonly Keyed[]): PlainPatches | null {
  // Most steps change records where they stand: no list of names is needed to see that.
  if (before.length === after.length && before.every(({ id }, index) => id === after[index]!.id))
    return changesOf(key, before, after);
  const then = new Map(before.map((item, index) => [item.id, index]));
  const now = new Set(after.map(({ id }) => id));
  const removed = before.flatMap((item, index) => (now.has(item.id) ? [] : [index]));
  const added = after.flatMap((item, index) => (then.has(item.id) ? [] : [index]));
  const stayed = before.filter(({ id }) => now.has(id));
  const kept = after.filter(({ id }) => then.has(id));
  if (kept.length !== stayed.length || kept.some(({ id }, index) => id !== stayed[index]!.id)) return null;
  const takeOut = (index: number): Patch => ({ op: 'remove', path: [key, index] });
  const putIn =
    (list: readonly Keyed[]) =>
    (index: number): Patch => ({
      op: 'add',
      path: [key, index],
      value: list[index],
    });
  // Between taking out and putting in, both lists hold the same records.
  const { redo, undo } = changesOf(key, stayed, kept);
  return {
    redo: [...removed.toReversed().map(takeOut), ...redo, ...added.map(putIn(after))],
    undo: [...added.toReversed().map(takeOut), ...undo, ...removed.map(putIn(before))],
  };
}

/** How a project became another, key by key. */
function patchesOf(before: Project, after: Project): PlainPatches {
  const redo: Patch[] = [];
  const undo: Patch[] = [];
  for (const key of Object.keys(after) as (keyof Project)[]) {
    const [old, value] = [before[key], after[key]];
    if (old === value) continue;
    const list = Array.isArray(old) ? listPatches(key, old as Keyed[], value as unknown as Keyed[]) : null;
    redo.push(...(list?.redo ?? [{ op: 'replace', path: [key], value }]));
    undo.push(...(list?.undo ?? [{ op: 'replace', path: [key], value: old }]));
  }
  return { redo, undo };
}

/**
 * Patches of steps in a row, of each place only the last: a key that is held down on thousands of clips would add all of
 * them at every turn.
 */
function joined(patches: readonly Patch[]): readonly Patch[] {
  // Where records come and go, a place is not always the same record's.
  if (patches.some(({ op }) => op !== 'replace')) return patches;
  const later = new Set<string>();
  return patches
    .toReversed()
    .filter(({ path }) => {
      // A record that is replaced later takes its fields with it, a list its records.
      if (path.some((_, i) => later.has(path.slice(0, i + 1).join('/')))) return false;
      later.add(path.join('/'));
      return true;
    })
    .reverse();
}

/**
 * Does one step. An edit that changes nothing is no step.
 * @param name what the editor did, in their words: “Set gain of 3 clips”
 * @param merge steps in a row with the same word here become one
 * @param at when, ms since 1970
 */
export function doStep(
  history: History,
  name: string,
  edit: (project: Project) => Project,
  merge: string | null = null,
  at: number | null = null,
): History {
  const before = history.project;
  const after = edit(before);
  if (after === before) return history;
  const { redo, undo } = patchesOf(before, after);
  if (redo.length === 0) return history;
  const project = freeze(after, true);
  const last = history.past.at(-1);
  if (merge !== null && last?.merge === merge && history.future.length === 0) {
    const step = {
      ...{ name, merge, at },
      redo: joined([...last.redo, ...redo]),
      undo: joined([...undo, ...last.undo]),
    };
    return { project, past: history.past.with(-1, step), future: [] };
  }
  return {
    project,
    past: [...history.past, { name, redo, undo, merge, at }].slice(-HISTORY_LIMIT),
    future: [],
  };
}

/** Takes the last step back; the same history when there is none. */
export function undoStep(history: History): History {
  const step = history.past.at(-1);
  if (!step) return history;
  return {
    project: applyPatches(history.project, step.undo as Patch[]),
    past: history.past.slice(0, -1),
    future: [step, ...history.future],
  };
}

/** Does the next step again; the same history when there is none. */
export function redoStep(history: History): History {
  const [step, ...future] = history.future;
  if (!step) return history;
  return {
    project: applyPatches(history.project, step.redo as Patch[]),
    past: [...history.past, step],
    future,
  };
}

/** Goes back or on to the state after so many steps, as far as there are any. @param steps 0: before the first that is known */
export function goToStep(history: History, steps: number): History {
  let at = history;
  while (at.past.length > steps && at.past.length > 0) at = undoStep(at);
  while (at.past.length < steps && at.future.length > 0) at = redoStep(at);
  return at;
}

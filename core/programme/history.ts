import { applyPatches, enablePatches, produceWithPatches, type Patch } from 'immer';
import type { Project } from './model';

enablePatches();

/** One named thing the editor did, and how to take it back. */
export interface Step {
  readonly name: string;
  readonly redo: readonly Patch[];
  readonly undo: readonly Patch[];
  /** Steps in a row with the same word here are one step: files that come in one by one, a key held down. */
  readonly merge: string | null;
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

/**
 * The items that differ, by index, when a list kept its order (and perhaps grew); `null` when it did not.
 * Edits are plain functions that give back new arrays: replacing an array of thousands for one clip would make every
 * step weigh as much, so only what differs becomes a patch.
 */
function changedItems<T extends Keyed>(before: readonly T[], after: readonly T[]): Map<number, T> | null {
  if (after.length < before.length || !before.every((item, index) => item.id === after[index]!.id))
    return null;
  const changed = new Map<number, T>();
  after.forEach((item, index) => {
    if (item !== before[index]) changed.set(index, item);
  });
  return changed;
}

/**
 * Does one step. An edit that changes nothing is no step.
 * @param name what the editor did, in their words: “Set gain of 3 clips”
 * @param merge steps in a row with the same word here become one
 */
export function doStep(
  history: History,
  name: string,
  edit: (project: Project) => Project,
  merge: string | null = null,
): History {
  const before = history.project;
  const after = edit(before);
  if (after === before) return history;
  const [project, redo, undo] = produceWithPatches(before, (draft) => {
    const target = draft as unknown as Record<string, unknown>;
    for (const [key, value] of Object.entries(after)) {
      const old: unknown = before[key as keyof Project];
      if (old === value) continue;
      const changed = Array.isArray(old) ? changedItems(old as Keyed[], value as Keyed[]) : null;
      if (changed) for (const [index, item] of changed) (target[key] as unknown[])[index] = item;
      else target[key] = value;
    }
  });
  if (redo.length === 0) return history;
  const last = history.past.at(-1);
  if (merge !== null && last?.merge === merge && history.future.length === 0) {
    const joined = { name, merge, redo: [...last.redo, ...redo], undo: [...undo, ...last.undo] };
    return { project, past: history.past.with(-1, joined), future: [] };
  }
  return { project, past: [...history.past, { name, redo, undo, merge }].slice(-HISTORY_LIMIT), future: [] };
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

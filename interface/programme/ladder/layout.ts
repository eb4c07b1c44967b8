import type { LedgerRow } from '@/core/proposals/ledger';
import type { Project } from '@/core/programme/model';
import { levelScale, type LevelScale } from '../../ui/levelScale';
import { ROLE_NAMES } from '../../ui/words';

/** The ladder's scale: LU over and under the horizon. True peaks stand far over it. */
const LADDER_TOP_LU = 26;
export const LADDER_BOTTOM_LU = -34;

export type GroupBy = 'track' | 'role' | 'source';

/** Widths of a clip's place, CSS pixels: less is not legible, more is not needed. */
const NARROWEST = 6;
const WIDEST = 34;
/** Left free between two groups. */
const GAP = 18;

interface LadderGroup {
  readonly name: string;
  readonly rows: readonly LedgerRow[];
  /** Of its first clip, CSS pixels. */
  readonly left: number;
}

export interface LadderLayout {
  readonly groups: readonly LadderGroup[];
  /** Width of each clip's place. */
  readonly slot: number;
  readonly width: number;
  /** All rows as they stand, from left to right. */
  readonly rows: readonly LedgerRow[];
}

/** LU over the horizon to CSS pixels from the top. */
export const ladderLevels = (height: number): LevelScale =>
  levelScale(LADDER_TOP_LU, LADDER_BOTTOM_LU, height);

export const ladderLuPerPixel = (height: number): number =>
  (LADDER_TOP_LU - LADDER_BOTTOM_LU) / Math.max(1, height);

/** Rows by group, in the order of tracks, roles or sources, those of a group in order of time. */
export function grouped(
  rows: readonly LedgerRow[],
  project: Project,
  by: GroupBy,
): { readonly name: string; readonly rows: readonly LedgerRow[] }[] {
  const tracks = new Map(project.tracks.map((track) => [track.id, track]));
  const keyOf = ({ entry: { clip } }: LedgerRow): string =>
    by === 'source' ? clip.sourceId : by === 'track' ? clip.trackId : (tracks.get(clip.trackId)?.role ?? '');
  const names: readonly (readonly [string, string])[] =
    by === 'source'
      ? project.sources.map(({ id, name }) => [id, name])
      : by === 'track'
        ? project.tracks.map(({ id, name }) => [id, name])
        : Object.entries(ROLE_NAMES);
  const members = new Map<string, LedgerRow[]>();
  for (const row of rows) members.set(keyOf(row), [...(members.get(keyOf(row)) ?? []), row]);
  return names.flatMap(([key, name]) => {
    const found = members.get(key);
    return found ? [{ name, rows: found.sort((a, b) => a.entry.clip.start - b.entry.clip.start) }] : [];
  });
}

/** @param room width there is, CSS pixels @param zoom 1 fits what can be fitted */
export function layOut(
  groups: readonly { readonly name: string; readonly rows: readonly LedgerRow[] }[],
  room: number,
  zoom: number,
): LadderLayout {
  const count = groups.reduce((sum, { rows }) => sum + rows.length, 0);
  const gaps = GAP * (groups.length + 1);
  const fitting = (room - gaps) / Math.max(1, count);
  const slot = Math.max(NARROWEST, Math.min(WIDEST, fitting)) * zoom;
  let left = GAP;
  const placed = groups.map(({ name, rows }) => {
    const group = { name, rows, left };
    left += rows.length * slot + GAP;
    return group;
  });
  return { groups: placed, slot, width: Math.max(room, left), rows: placed.flatMap(({ rows }) => rows) };
}

/** The row under a place. @param x CSS pixels from the left of it all */
export function rowAt({ groups, slot }: LadderLayout, x: number): LedgerRow | null {
  for (const { rows, left } of groups)
    if (x >= left && x < left + rows.length * slot) return rows[Math.floor((x - left) / slot)] ?? null;
  return null;
}

/** Left edge of a row's place; `null` when it is not there. */
export function leftOf({ groups, slot }: LadderLayout, clipId: string): number | null {
  for (const { rows, left } of groups) {
    const index = rows.findIndex((row) => row.entry.clip.id === clipId);
    if (index >= 0) return left + index * slot;
  }
  return null;
}

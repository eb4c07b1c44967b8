import type { LedgerRow } from '@/core/proposals/ledger';
import type { Project } from '@/core/programme/model';
import { levelScale, type LevelScale } from '../../ui/levelScale';
import { ROLE_NAMES } from '../../ui/words';

/** The ladder's scale: LU over and under the horizon. True peaks stand far over it. */
export const LADDER_TOP_LU = 26;
export const LADDER_BOTTOM_LU = -34;

export type GroupBy = 'track' | 'role' | 'source';

/** A name has room in one row from this width on, CSS pixels. */
const WIDE_NAME = 90;

/** Widths of a clip's place, CSS pixels: less is not legible, more is not needed. */
const NARROWEST = 6;
const WIDEST = 34;
/** Left free between two groups. */
const GAP = 18;
/** Room for the figures of the scales: LU on the left, LUFS and dBTP on the right, CSS pixels. */
export const SCALE_LEFT = 34;
export const SCALE_RIGHT = 40;

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
  const gaps = GAP * (groups.length + 1) + SCALE_LEFT + SCALE_RIGHT;
  const fitting = (room - gaps) / Math.max(1, count);
  const slot = Math.max(NARROWEST, Math.min(WIDEST, fitting)) * zoom;
  let left = SCALE_LEFT + GAP;
  const placed = groups.map(({ name, rows }) => {
    const group = { name, rows, left };
    left += rows.length * slot + GAP;
    return group;
  });
  return {
    groups: placed,
    slot,
    width: Math.max(room, left + SCALE_RIGHT),
    rows: placed.flatMap(({ rows }) => rows),
  };
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

/** Where the name of each group stands, CSS pixels: none runs into another, in two rows where they are narrow. */
export function nameBoxes({ groups, width }: LadderLayout): readonly {
  readonly left: number;
  readonly width: number;
  readonly row: 0 | 1;
}[] {
  const narrow = groups.some(({ left }, i) => (groups[i + 1]?.left ?? width) - left < WIDE_NAME);
  const step = narrow ? 2 : 1;
  return groups.map(({ left }, i) => ({
    left,
    width: Math.max(NARROWEST, (groups[i + step]?.left ?? width) - left - 6),
    row: narrow && i % 2 === 1 ? 1 : 0,
  }));
}

/** How many clips lie left and right of what is in sight. */
export function outOfSight(
  { groups, slot }: LadderLayout,
  scrollLeft: number,
  width: number,
): { readonly left: number; readonly right: number } {
  let [before, after] = [0, 0];
  for (const { rows, left } of groups) {
    before += Math.max(0, Math.min(rows.length, Math.floor((scrollLeft - left) / slot)));
    after += Math.max(
      0,
      Math.min(rows.length, Math.floor((left + rows.length * slot - scrollLeft - width) / slot)),
    );
  }
  return { left: before, right: after };
}

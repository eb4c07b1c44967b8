import { bisector } from 'd3-array';
import type { Id } from '@/core/programme/model';
import { HIGHEST_LANE, LOWEST_LANE } from './laneScale';

/** A line between two lanes, CSS pixels. */
const LINE = 1;

/** Where a lane lies under the ruler, CSS pixels. */
export interface LaneRow {
  readonly trackId: Id;
  readonly top: number;
  /** Without the line under it. */
  readonly height: number;
}

/** Lanes one under the other. @param factors of those whose height was set, relative to what all take by themselves */
export function laneRows(
  trackIds: readonly Id[],
  height: number,
  factors: Readonly<Record<Id, number>>,
): readonly LaneRow[] {
  let top = 0;
  return trackIds.map((trackId) => {
    const wanted = Math.round(height * (factors[trackId] ?? 1));
    const row = { trackId, top, height: Math.max(LOWEST_LANE, Math.min(HIGHEST_LANE, wanted)) };
    top += row.height + LINE;
    return row;
  });
}

const byTop = bisector<LaneRow, number>(({ top }) => top);

/** Index of the lane under a place; the first over all of them, the last under them. @param y from under the ruler */
export const rowIndexAt = (rows: readonly LaneRow[], y: number): number =>
  Math.max(0, byTop.right(rows as LaneRow[], y) - 1);

/** The lane under a place; `null` where there is none. */
export function rowAtY(rows: readonly LaneRow[], y: number): LaneRow | null {
  const row = y < 0 ? undefined : rows[rowIndexAt(rows, y)];
  return row && y < row.top + row.height + LINE ? row : null;
}

import { meanSquareToLufs } from '@/core/loudness/decibels';
import { levelScale } from '../../ui/levelScale';
import { LANE_TOP_LU } from '../lanes/laneScale';

/**
 * Where a meter stands: from the horizon to the level, up or down.
 * @param relative LU over the horizon; `null` when there is no sound
 * @param depth LU under the horizon that the meter reaches down to
 * @returns in parts of the meter's height, from its top
 */
export function meterBar(
  relative: number | null,
  depth: number,
): { readonly top: number; readonly height: number } {
  const rise = Math.min(LANE_TOP_LU, depth);
  const y = levelScale(rise, -depth, 1);
  const at = y(relative ?? -Infinity);
  const horizon = y(0);
  return { top: Math.min(at, horizon), height: Math.abs(at - horizon) };
}

/** Draws a bar by moving it only; its hue and shape say which way it goes. */
export function placeBar(
  bar: HTMLElement,
  meanSquare: number,
  targetLufs: number,
  tolerance: number,
  depth: number,
): void {
  const lufs = meanSquareToLufs(meanSquare);
  const relative = lufs === null ? null : lufs - targetLufs;
  const { top, height } = meterBar(relative, depth);
  bar.style.top = `${top * 100}%`;
  bar.style.height = `max(2px, ${height * 100}%)`;
  bar.style.visibility = relative === null || relative <= -depth ? 'hidden' : 'visible';
  bar.dataset['standing'] =
    relative === null ? '' : relative > tolerance ? 'over' : relative < -tolerance ? 'under' : 'within';
  bar.dataset['lufs'] = lufs === null ? '' : lufs.toFixed(2);
}

/** What a bar looks like by where it stands. */
export const BAR_STYLE = {
  position: 'absolute',
  left: 0,
  right: 0,
  '&[data-standing=over]': { bgcolor: 'level.over' },
  '&[data-standing=under]': { bgcolor: 'level.under', opacity: 0.75 },
  '&[data-standing=within]': { bgcolor: 'level.within' },
} as const;

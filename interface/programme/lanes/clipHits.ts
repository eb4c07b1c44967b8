import type { FadeSide } from '@/core/programme/edits/fades';
import { clipLevel } from '@/core/check/clipLevel';
import { curveDbAt, curveSections, SILENT_DB, type CurveSection } from '@/core/programme/curve';
import { clipEnd, type Clip, type Id } from '@/core/programme/model';
import { inSource } from '@/core/programme/sections';
import { bodyHeight, curveY, NAME_STRIP, yOf } from './laneScale';
import { HOLD_PIXELS, type LaneScale } from './pointHits';
import type { DrawnClip } from './useVisible';

/** How far from its ends a clip is held by its edge, pixels. */
export const EDGE_WIDTH = 6;
/** Narrower clips have no edges to drag, or no fades, pixels. */
const LEAST_FOR_EDGES = 28;
const LEAST_FOR_FADES = 60;
/** The tab by which the end of a fade is dragged: it hangs under the name's strip, pixels. */
export const FADE_TAB = { width: 10, height: 7, top: NAME_STRIP - 1 } as const;
const FADE_SIDES = ['in', 'out'] as const;

/** What of a clip lies under a place. */
export interface ClipHit {
  readonly drawn: DrawnClip;
  readonly waterline: boolean;
  readonly edge: 'start' | 'end' | null;
  readonly fade: FadeSide | null;
  readonly part: CurveSection | null;
}

/** A place on a lane, and the lane's scale. */
export interface LanePlace extends LaneScale {
  /** Of the programme. */
  readonly frame: number;
  /** Pixels from the lane's top. */
  readonly y: number;
}

/** The clip under the pointer, and the edge by which a drag would take it. */
export interface HotClip {
  readonly clipId: Id;
  readonly edge: ClipHit['edge'];
}

/** Where a clip's waterline lies, pixels from the lane's top. @param relative loudness over the target, LU */
export const waterlineY = (relative: number, laneHeight: number): number =>
  NAME_STRIP + yOf(relative, bodyHeight(laneHeight));

/** The middle of the tabs that drag a clip's fades, pixels from its left; none on a narrow clip. @param width of the clip, pixels */
export function fadeTabs(
  { fadeIn, fadeOut, length }: Clip,
  width: number,
): readonly (readonly [side: FadeSide, x: number])[] {
  if (width <= LEAST_FOR_FADES) return [];
  const inward = (frames: number): number => Math.max(6 + FADE_TAB.width / 2, (frames / length) * width);
  return FADE_SIDES.map((side) => [side, side === 'in' ? inward(fadeIn) : width - inward(fadeOut)]);
}

/** The part of a clip, with a gain of its own, whose line lies under a place. */
function partAt({ clip, measurement }: DrawnClip, place: LanePlace): CurveSection | null {
  if (clip.curve.length === 0) return null;
  const at = inSource(clip, place.frame);
  const section = curveSections(clip).find(({ from, to }) => from <= at && at < to);
  if (!section || section.db <= SILENT_DB) return null;
  const { relative } = clipLevel(measurement, clip.gain.db, place.target);
  const away = (db: number): number => Math.abs(place.y - curveY(relative, db, place.laneHeight));
  const own = away(curveDbAt(clip.curve, at));
  // Where it lies near the waterline, the nearer of the two is meant.
  return own <= HOLD_PIXELS && (relative === null || own <= away(0)) ? section : null;
}

/** What of the uppermost clip lies under a place. @param clips of the lane, the uppermost last */
export function clipUnder(clips: readonly DrawnClip[], place: LanePlace): ClipHit | null {
  const { frame, y, laneHeight, framesPerPixel } = place;
  const drawn = clips.findLast(({ clip }) => clip.start <= frame && frame < clipEnd(clip));
  if (!drawn) return null;
  const { clip, measurement } = drawn;
  const [x, width] = [(frame - clip.start) / framesPerPixel, clip.length / framesPerPixel];
  const { top, height } = FADE_TAB;
  const onTabs = y >= top && y <= top + height + 1;
  const fade =
    (onTabs && fadeTabs(clip, width).find(([, at]) => Math.abs(x - at) <= FADE_TAB.width / 2 + 1)?.[0]) ||
    null;
  const side = x < EDGE_WIDTH ? 'start' : x > width - EDGE_WIDTH ? 'end' : null;
  const edge = !fade && width > LEAST_FOR_EDGES ? side : null;
  const { relative } = clipLevel(measurement, clip.gain.db, place.target);
  // A line beyond the lane's scale lies at its edge, where half of its room would be lost.
  const line =
    relative === null ? null : Math.min(laneHeight - 1 - HOLD_PIXELS, waterlineY(relative, laneHeight));
  return {
    ...{ drawn, fade, edge },
    waterline: !fade && !edge && line !== null && Math.abs(y - line) <= HOLD_PIXELS,
    part: edge || fade ? null : partAt(drawn, place),
  };
}

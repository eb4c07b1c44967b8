import { curveDbAt, pointAfter } from '@/core/programme/curve';
import { clipLevel } from '@/core/check/clipLevel';
import type { CurvePoint } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import type { Target } from '@/core/check/target';
import { curveY } from './laneScale';
import type { DrawnClip } from './useVisible';

/** Pixels around a point, and around a line, within which a press takes hold of it. */
const HOLD_PIXELS = 7;

/** What a lane's scale depends on. */
export interface LaneScale {
  readonly target: Target;
  readonly laneHeight: number;
  readonly framesPerPixel: number;
}

/** Where a gain of a clip's curve lies on its lane, pixels from the lane's top. */
function heightOnLane(
  { clip, measurement }: DrawnClip,
  { target, laneHeight }: LaneScale,
): (db: number) => number {
  const { relative } = clipLevel(measurement, clip.gain.db, target);
  return (db) => curveY(relative, db, laneHeight);
}

/** The point of a clip's curve under a place. @param frame of the programme @param y from the lane's top */
export function pointAt(drawn: DrawnClip, frame: number, y: number, scale: LaneScale): CurvePoint | null {
  const { clip } = drawn;
  const height = heightOnLane(drawn, scale);
  const first = pointAfter(clip.curve, inSource(clip, frame - HOLD_PIXELS * scale.framesPerPixel) - 1);
  let best: CurvePoint | null = null;
  let nearest = HOLD_PIXELS + 0.5;
  for (let i = first; i < clip.curve.length; i++) {
    const point = clip.curve[i]!;
    const away = Math.abs(inProgramme(clip, point.at) - frame) / scale.framesPerPixel;
    if (away > HOLD_PIXELS && inProgramme(clip, point.at) > frame) break;
    const distance = Math.max(away, Math.abs(height(point.db) - y));
    if (distance >= nearest) continue;
    nearest = distance;
    best = point;
  }
  return best;
}

/** The two points between which the line lies that is under a place. */
export function segmentAt(
  drawn: DrawnClip,
  frame: number,
  y: number,
  scale: LaneScale,
): readonly [CurvePoint, CurvePoint] | null {
  const { curve } = drawn.clip;
  const at = inSource(drawn.clip, frame);
  const index = pointAfter(curve, at);
  const [before, after] = [curve[index - 1], curve[index]];
  if (!before || !after) return null;
  const away = Math.abs(heightOnLane(drawn, scale)(curveDbAt(curve, at)) - y);
  return away <= HOLD_PIXELS ? [before, after] : null;
}

import { curveDbAt, pointAfter } from '@/core/programme/curve';
import { clipLevel } from '@/core/check/clipLevel';
import type { CurvePoint, Track } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import type { Target } from '@/core/check/target';
import { curveY } from './laneScale';
import type { DrawnClip } from './useVisible';

/** Pixels around a point, and around a line, within which a press takes hold of it. */
export const HOLD_PIXELS = 7;

/** What a lane's scale depends on. */
export interface LaneScale {
  readonly target: Target;
  readonly laneHeight: number;
  readonly framesPerPixel: number;
}

/** A curve as it lies on its lane. */
export interface DrawnCurve {
  readonly curve: readonly CurvePoint[];
  /** From frames of the programme to places on the curve, and back. */
  readonly placeOf: (frame: number) => number;
  readonly frameOf: (place: number) => number;
  /** LU over the horizon at which 0 dB is drawn; `null` where that is not known. */
  readonly relative: number | null;
}

/** The curve of a clip, around its waterline. */
export function curveOfClip({ clip, measurement }: DrawnClip, target: Target): DrawnCurve {
  const { relative } = clipLevel(measurement, clip.gain.db, target);
  return {
    curve: clip.curve,
    placeOf: (frame) => inSource(clip, frame),
    frameOf: (place) => inProgramme(clip, place),
    relative,
  };
}

/** The curve of a track, around the horizon. */
export const curveOfTrack = ({ curve }: Track): DrawnCurve => ({
  curve,
  placeOf: (frame) => frame,
  frameOf: (place) => place,
  relative: 0,
});

/** Where a gain of a curve lies on its lane, pixels from the lane's top. */
const heightOf =
  ({ relative }: DrawnCurve, { laneHeight }: LaneScale) =>
  (db: number): number =>
    curveY(relative, db, laneHeight);

/** The point of a curve under a place. @param frame of the programme @param y from the lane's top */
export function pointAt(drawn: DrawnCurve, frame: number, y: number, scale: LaneScale): CurvePoint | null {
  const { curve, placeOf, frameOf } = drawn;
  const height = heightOf(drawn, scale);
  const first = pointAfter(curve, placeOf(frame - HOLD_PIXELS * scale.framesPerPixel) - 1);
  let best: CurvePoint | null = null;
  let nearest = HOLD_PIXELS + 0.5;
  for (let i = first; i < curve.length; i++) {
    const point = curve[i]!;
    const away = Math.abs(frameOf(point.at) - frame) / scale.framesPerPixel;
    if (away > HOLD_PIXELS && frameOf(point.at) > frame) break;
    const distance = Math.max(away, Math.abs(height(point.db) - y));
    if (distance >= nearest) continue;
    nearest = distance;
    best = point;
  }
  return best;
}

/** Whether the line of a curve lies under a place. */
export function isOnLine(drawn: DrawnCurve, frame: number, y: number, scale: LaneScale): boolean {
  const db = curveDbAt(drawn.curve, drawn.placeOf(frame));
  return drawn.curve.length > 0 && Math.abs(heightOf(drawn, scale)(db) - y) <= HOLD_PIXELS;
}

/** The two points between which the line lies that is under a place. */
export function segmentAt(
  drawn: DrawnCurve,
  frame: number,
  y: number,
  scale: LaneScale,
): readonly [CurvePoint, CurvePoint] | null {
  const index = pointAfter(drawn.curve, drawn.placeOf(frame));
  const [before, after] = [drawn.curve[index - 1], drawn.curve[index]];
  return before && after && isOnLine(drawn, frame, y, scale) ? [before, after] : null;
}

/** The points of a curve within a rectangle: frames of the programme, and pixels from the lane's top. */
export function pointsWithin(
  drawn: DrawnCurve,
  frames: { readonly from: number; readonly to: number },
  pixels: { readonly top: number; readonly bottom: number },
  scale: LaneScale,
): number[] {
  const height = heightOf(drawn, scale);
  return drawn.curve
    .filter(({ at, db }) => {
      const [frame, y] = [drawn.frameOf(at), height(db)];
      return frame >= frames.from && frame <= frames.to && y >= pixels.top && y <= pixels.bottom;
    })
    .map(({ at }) => at);
}

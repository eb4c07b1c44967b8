import { curveDbAt } from '@/core/programme/curve';
import type { CurvePoint, Id } from '@/core/programme/model';
import { pointsOf } from '../../session/state';
import { placesOf } from './drawClip';
import type { LaneDrawing } from './laneDrawing';
import { curveY } from './laneScale';

/** Points nearer to each other than this are not all drawn, pixels. */
const POINT_PIXELS = 8;

/**
 * A track's gain over time: a dotted line around the horizon, up where it raises its clips, with its points as squares,
 * those that are selected large.
 */
export function drawTrackCurve(
  context: CanvasRenderingContext2D,
  colour: (name: string) => string,
  trackId: Id,
  curve: readonly CurvePoint[],
  { points, sampleRate, pixelsPerSecond, scrollLeft, width, height }: LaneDrawing,
): void {
  if (curve.length === 0) return;
  const x = (at: number): number => (at / sampleRate) * pixelsPerSecond - scrollLeft;
  const y = (at: number): number => curveY(0, curveDbAt(curve, at), height);
  const [from, to] = [scrollLeft, scrollLeft + width].map((pixel) => (pixel / pixelsPerSecond) * sampleRate);
  context.save();
  context.strokeStyle = colour('text-primary');
  context.fillStyle = colour('text-primary');
  context.lineWidth = 1.5;
  context.setLineDash([2, 3]);
  context.beginPath();
  context.moveTo(0, y(from!));
  for (const at of placesOf(curve, from!, to!)) context.lineTo(x(at), y(at));
  context.lineTo(width, y(to!));
  context.stroke();
  const selected = pointsOf(points, { kind: 'track', id: trackId });
  let last = -Infinity;
  for (const { at } of curve) {
    if (at < from! || at > to! || x(at) - last < POINT_PIXELS) continue;
    last = x(at);
    const size = selected?.has(at) ? 4 : 2;
    context.fillRect(last - size, y(at) - size, 2 * size, 2 * size);
  }
  context.restore();
}

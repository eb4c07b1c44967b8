import type { PointerEvent } from 'react';
import { SILENT_DB } from '@/core/programme/curve';
import type { CurveOwner } from '@/core/programme/edits/points';
import type { Session } from '../../session/session';
import { pointsOf } from '../../session/state';
import { luPerPixel } from './laneScale';
import { PointGesture } from './pointGestures';
import { pointAt, segmentAt, type DrawnCurve, type LaneScale } from './pointHits';

/**
 * A drag of points of a curve, or of the line between two of them; a click selects the point, or what the line covers.
 * @param place frame of the programme, and pixels from the lane's top
 * @param lines whether lines can be dragged as well
 * @returns `null` where nothing of the curve lies under the place
 */
export function gestureOnCurve(
  session: Session,
  event: PointerEvent,
  owner: CurveOwner,
  drawn: DrawnCurve,
  place: { readonly frame: number; readonly y: number },
  scale: LaneScale,
  lines: boolean,
): PointGesture | null {
  const point = pointAt(drawn, place.frame, place.y, scale);
  const segment = point || !lines ? null : segmentAt(drawn, place.frame, place.y, scale);
  const held = point ?? segment?.[0];
  if (!held) return null;
  const selected = pointsOf(session.state.points, owner) ?? new Set<number>();
  const adds = event.ctrlKey || event.metaKey || event.shiftKey;
  const onClick = (): void => {
    if (!point) {
      const [from, to] = segment!;
      return session.listening.setRange(drawn.frameOf(from.at), drawn.frameOf(to.at));
    }
    const next = new Set(adds ? selected : []);
    if (adds && selected.has(point.at)) next.delete(point.at);
    else next.add(point.at);
    session.selectPoints(owner, next);
  };
  const places = !point
    ? new Set(segment!.map(({ at }) => at))
    : selected.has(point.at)
      ? selected
      : new Set([point.at]);
  const { curve, relative } = drawn;
  const at = curve.findIndex((one) => one.at === held.at);
  const neighbours = [curve[at - 1], curve[at + 1]].flatMap((one) =>
    one && !places.has(one.at) && one.db > SILENT_DB ? [one.db] : [],
  );
  const snaps = [0, ...neighbours, ...(relative === null ? [] : [-relative])];
  return new PointGesture(
    session,
    { owner, point: held, places, levelOnly: !point, snaps },
    { x: event.clientX, y: event.clientY },
    scale.framesPerPixel,
    luPerPixel(scale.laneHeight),
    onClick,
  );
}

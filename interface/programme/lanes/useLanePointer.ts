import { useRef, useState, type MouseEvent, type PointerEvent } from 'react';
import { curveDbAt, curveSections, SILENT_DB, type CurveSection } from '@/core/programme/curve';
import { clipEnd, type Clip, type Id, type Project } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import type { Target } from '@/core/check/target';
import type { FadeSide } from '@/core/programme/edits/fades';
import { inTimeOrder } from '../../commands/clipCommands';
import type { Session } from '../../session/session';
import { pointsOf } from '../../session/state';
import { clipLevel } from '@/core/check/clipLevel';
import { FadeGesture } from './fadeGesture';
import { addPoint, ownerOf } from '../points/pointActions';
import { BandGesture, type Band } from './band';
import { GainGesture, MoveGesture, PartGesture, TrimGesture } from './gestures';
import { gestureOnCurve } from './gestureOnCurve';
import type { PointGesture } from './pointGestures';
import { curveOfClip, curveOfTrack, isOnLine, pointAt, pointsWithin, type LaneScale } from './pointHits';
import { speechAt, SpeechGesture, type SpeechHit } from './speechGesture';
import { bodyHeight, curveY, luPerPixel, NAME_STRIP, RULER_HEIGHT, yOf } from './laneScale';
import { rowAtY, rowIndexAt } from './laneRows';
import { useGesture, type Gesture } from '../../editing/useGesture';
import type { LaneView } from './useLaneView';
import { isSmall, type DrawnClip } from './useVisible';

/** Pixels around a waterline within which a drag takes hold of it. */
const HOLD_PIXELS = 7;

/** What the pointer is on. */
interface Hit {
  readonly clipId: Id;
  readonly waterline: boolean;
  readonly edge: 'start' | 'end' | null;
  readonly fade: FadeSide | null;
  readonly part: CurveSection | null;
}

/** The part of a clip, with a gain of its own, whose line lies under a place. @param y from the lane's top */
function partAt(
  { clip, measurement }: DrawnClip,
  frame: number,
  y: number,
  view: Place,
): CurveSection | null {
  if (clip.curve.length === 0) return null;
  const at = inSource(clip, frame);
  const section = curveSections(clip).find(({ from, to }) => from <= at && at < to);
  if (!section || section.db <= SILENT_DB) return null;
  const { relative } = clipLevel(measurement, clip.gain.db, view.target);
  const away = (db: number): number => Math.abs(y - curveY(relative, db, view.laneHeight));
  const own = away(curveDbAt(clip.curve, at));
  // Where it lies near the waterline, the nearer of the two is meant.
  return own <= HOLD_PIXELS && (relative === null || own <= away(0)) ? section : null;
}

/** Whether a part has one level between its ramps. */
const isLevel = ({ curve }: Clip, { from, to, db }: CurveSection): boolean =>
  curve.every((point) => point.at <= from || point.at >= to || point.db === db);

/** What a lane's scale depends on. */
interface Place {
  readonly target: Target;
  readonly laneHeight: number;
}

/** What a drag on a clip, or on a track's curve, is doing, and where. */
export interface LaneDrag {
  readonly x: number;
  readonly y: number;
  /** The clip, or the track whose curve it is. */
  readonly clipId: Id | null;
  readonly trackId: Id | null;
  readonly gain: boolean;
  /** The part that is moved; `null` when it is all of the clip. */
  readonly part: CurveSection | null;
  /** The fade that is dragged. */
  readonly fade: FadeSide | null;
  /** The point of its curve that is dragged, with or without others: which in order. */
  readonly point: number | null;
}

const NOTHING_HELD = { clipId: null, trackId: null, part: null, fade: null, point: null } as const;

interface Lanes {
  readonly session: Session;
  readonly project: Project;
  readonly view: LaneView;
  readonly visible: ReadonlyMap<Id, readonly DrawnClip[]>;
  readonly focused: Id | null;
  readonly setFocused: (clipId: Id) => void;
}

/** What the pointer does on the lanes: which gesture begins where. */
export function useLanePointer({ session, project, view, visible, focused, setFocused }: Lanes) {
  const [drag, setDrag] = useState<LaneDrag | null>(null);
  const [band, setBand] = useState<Band | null>(null);
  const dragged = useRef<Omit<LaneDrag, 'x' | 'y'> | null>(null);
  const hovered = useRef<Id | null>(null);
  const { scroller, rows, pixelsPerSecond } = view;
  const heightOf = (trackId: Id): number => rows.find((row) => row.trackId === trackId)?.height ?? 0;
  const framesPerPixel = project.sampleRate / pixelsPerSecond;

  const trackAt = (clientY: number): Id | null => {
    const element = scroller.current;
    if (!element) return null;
    const y = clientY - element.getBoundingClientRect().top - RULER_HEIGHT + element.scrollTop;
    return rowAtY(rows, y)?.trackId ?? null;
  };

  /** Among the clips that are drawn only, the one under a place. */
  const hitDrawn = (trackId: Id, frame: number, y: number): Hit | null => {
    const found = visible
      .get(trackId)
      ?.findLast(
        ({ clip }) => isSmall(clip, 1 / framesPerPixel) && clip.start <= frame && frame < clipEnd(clip),
      );
    if (!found) return null;
    const laneHeight = heightOf(trackId);
    const { relative } = clipLevel(found.measurement, found.clip.gain.db, project.target);
    const line = relative === null ? null : NAME_STRIP + yOf(relative, bodyHeight(laneHeight));
    return {
      clipId: found.clip.id,
      waterline: line !== null && Math.abs(y - line) <= HOLD_PIXELS,
      edge: null,
      fade: null,
      part: partAt(found, frame, y, { target: project.target, laneHeight }),
    };
  };

  const choose = (event: PointerEvent, clipId: Id): ReadonlySet<Id> => {
    const { selection } = session.state;
    if (event.ctrlKey || event.metaKey) {
      const own = session.grouped(new Set([clipId]));
      const next = new Set(selection);
      for (const id of own) {
        if (selection.has(clipId)) next.delete(id);
        else next.add(id);
      }
      session.select(next);
    } else if (event.shiftKey && focused && !selection.has(clipId)) {
      const order = inTimeOrder(project);
      const ends = [order.indexOf(focused), order.indexOf(clipId)];
      session.select([...selection, ...order.slice(Math.max(0, Math.min(...ends)), Math.max(...ends) + 1)]);
    } else if (event.altKey) session.select([clipId], true);
    else if (!selection.has(clipId)) session.select([clipId]);
    return session.state.selection;
  };

  const scaleOf = (trackId: Id): LaneScale => ({
    target: project.target,
    laneHeight: heightOf(trackId),
    framesPerPixel,
  });

  /** Where in its lane a press is: its frame, and how far from the lane's top. */
  const placeIn = (event: { target: EventTarget; clientX: number; clientY: number }) => {
    const rect = (event.target as HTMLElement).closest<HTMLElement>('[data-track]')?.getBoundingClientRect();
    return rect && { frame: (event.clientX - rect.left) * framesPerPixel, y: event.clientY - rect.top };
  };

  /** A drag of points of a selected clip, or of the line between two of them; a part that is level is dragged as a part. */
  const pointGesture = (event: PointerEvent, clip: Clip, part: CurveSection | null): PointGesture | null => {
    const drawn = visible.get(clip.trackId)?.find((one) => one.clip.id === clip.id);
    const place = placeIn(event);
    const { selection } = session.state;
    if (!drawn || !place || clip.curve.length === 0 || selection.size !== 1 || !selection.has(clip.id))
      return null;
    const lines = !(part && isLevel(clip, part));
    const curve = curveOfClip(drawn, project.target);
    return gestureOnCurve(session, event, ownerOf(clip), curve, place, scaleOf(clip.trackId), lines);
  };

  /** A drag of points of a track's curve; of its line only where no clip lies under it. */
  const trackGesture = (event: PointerEvent, trackId: Id, lines: boolean): PointGesture | null => {
    const track = project.tracks.find(({ id }) => id === trackId);
    const place = placeIn(event);
    if (!track || !place || track.curve.length === 0) return null;
    const owner = { kind: 'track', id: trackId } as const;
    return gestureOnCurve(session, event, owner, curveOfTrack(track), place, scaleOf(trackId), lines);
  };

  /** What of the speech strip of the one selected clip lies under the pointer. */
  const speechUnder = (event: PointerEvent, clip: Clip): SpeechHit | null => {
    const drawn = visible.get(clip.trackId)?.find((one) => one.clip.id === clip.id);
    const place = placeIn(event);
    const { selection } = session.state;
    if (
      !drawn ||
      isSmall(clip, view.pixelsPerSecond / project.sampleRate) ||
      !place ||
      selection.size !== 1 ||
      !selection.has(clip.id)
    )
      return null;
    return speechAt(drawn, place, heightOf(clip.trackId), framesPerPixel, project.sampleRate);
  };

  const speechGesture = (event: PointerEvent, clip: Clip, onClick: () => void): SpeechGesture | null => {
    const hit = speechUnder(event, clip);
    const source = hit && project.sources.find(({ id }) => id === hit.sourceId);
    if (!hit || !source) return null;
    const seconds = source.frames / source.sampleRate;
    return new SpeechGesture(session, hit, seconds, event.clientX, 1 / pixelsPerSecond, onClick);
  };

  /** A band over the points of the one selected clip. */
  const pointBand = (event: PointerEvent, clip: Clip, onClick: () => void): BandGesture | null => {
    const drawn = visible.get(clip.trackId)?.find((one) => one.clip.id === clip.id);
    const place = placeIn(event);
    if (!drawn || !place) return null;
    const start = { x: event.clientX, y: event.clientY, frame: place.frame };
    const laneTop = event.clientY - place.y;
    const curve = curveOfClip(drawn, project.target);
    const owner = ownerOf(clip);
    const before = [...(pointsOf(session.state.points, owner) ?? [])];
    return new BandGesture(start, framesPerPixel, setBand, {
      select({ from, to, top, bottom }) {
        const pixels = { top: top - laneTop, bottom: bottom - laneTop };
        const touched = pointsWithin(curve, { from, to }, pixels, scaleOf(clip.trackId));
        session.selectPoints(owner, [...before, ...touched]);
      },
      restore: () => session.selectPoints(owner, before),
      click: onClick,
    });
  };

  /** A double click sets a point on the line of a clip's gain, or on that of a track's beside its clips. */
  const onDoubleClick = (event: MouseEvent): void => {
    const target = event.target as HTMLElement;
    const clipId = target.closest<HTMLElement>('[data-clip]')?.dataset['clip'];
    const trackId = target.closest<HTMLElement>('[data-track]')?.dataset['track'];
    const place = placeIn(event);
    if (!place) return;
    const clip = project.clips.find(({ id }) => id === clipId);
    if (clip) {
      session.select([clip.id], true);
      return addPoint(session, ownerOf(clip), inSource(clip, place.frame));
    }
    const track = project.tracks.find(({ id }) => id === trackId);
    if (track && isOnLine(curveOfTrack(track), place.frame, place.y, scaleOf(track.id)))
      addPoint(session, { kind: 'track', id: track.id }, place.frame);
  };

  const onClip = (event: PointerEvent, hit: Hit, clip: Clip): Gesture | null => {
    const { selection } = session.state;
    const ids = hit.waterline && selection.has(clip.id) && !event.altKey ? selection : choose(event, clip.id);
    setFocused(clip.id);
    if (!ids.has(clip.id)) return null;
    const byKey = event.ctrlKey || event.metaKey || event.shiftKey || event.altKey;
    const onClick = (): void => {
      if (!byKey) session.select([clip.id]);
    };
    const { part } = hit;
    const laneHeight = heightOf(clip.trackId);
    const start = { x: event.clientX, y: event.clientY };
    const onThis = { ...NOTHING_HELD, clipId: clip.id };
    dragged.current = { ...onThis, gain: hit.waterline || part !== null, part };
    if (hit.fade) {
      dragged.current = { ...onThis, gain: true, fade: hit.fade };
      return new FadeGesture(session, clip, hit.fade, start.x, framesPerPixel, onClick);
    }
    const onSpeech = hit.edge || hit.waterline ? null : speechGesture(event, clip, onClick);
    if (onSpeech) return onSpeech;
    const onPoint = hit.edge ? null : pointGesture(event, clip, hit.part);
    if (onPoint) {
      dragged.current = { ...onThis, gain: true, point: onPoint.index };
      return onPoint;
    }
    const choosePart = (): void => {
      if (!part) return;
      session.select([clip.id]);
      session.listening.setRange(inProgramme(clip, part.from), inProgramme(clip, part.to));
    };
    if (part) return new PartGesture(session, clip, part, start.y, luPerPixel(laneHeight), choosePart);
    if (hit.edge) return new TrimGesture(session, clip, hit.edge, start.x, framesPerPixel, onClick);
    // With Shift a drag beside the lines draws a band over the points.
    const single = session.state.selection.size === 1 && clip.curve.length > 0;
    if (event.shiftKey && single && !hit.waterline) return pointBand(event, clip, onClick);
    if (hit.waterline) return new GainGesture(session, clip, ids, start.y, luPerPixel(laneHeight), onClick);
    return new MoveGesture(session, clip, ids, start, framesPerPixel, trackAt, onClick);
  };

  /** The clips that a band touches. */
  const touched = ({ from, to, top, bottom }: Band): Id[] => {
    const element = scroller.current;
    if (!element) return [];
    const first = element.getBoundingClientRect().top + RULER_HEIGHT - element.scrollTop;
    const [upper, lower] = [rowIndexAt(rows, top - first), rowIndexAt(rows, bottom - first)];
    const tracks = new Set(rows.slice(upper, lower + 1).map(({ trackId }) => trackId));
    return session.project.clips
      .filter((clip) => tracks.has(clip.trackId) && clip.start < to && clip.start + clip.length > from)
      .map(({ id }) => id);
  };

  const partOf = (trackId: Id, clipId: Id, frame: number, y: number): CurveSection | null => {
    const drawn = visible.get(trackId)?.find(({ clip }) => clip.id === clipId);
    return drawn ? partAt(drawn, frame, y, { target: project.target, laneHeight: heightOf(trackId) }) : null;
  };

  /** Gets ready for a drag of the clip under the pointer, once for each that it comes to. */
  const comeTo = (clipId: Id | null): void => {
    if (clipId === hovered.current) return;
    hovered.current = clipId;
    if (clipId === null) return;
    const { selection } = session.state;
    session.prepare(selection.has(clipId) ? selection : session.grouped(new Set([clipId])));
  };

  /** Shows that a line can be taken hold of, where no element of its own does. */
  const onPointerMove = (event: PointerEvent): void => {
    if (event.buttons !== 0) return;
    const target = event.target as HTMLElement;
    const element = target.closest<HTMLElement>('[data-clip]');
    comeTo(element?.dataset['clip'] ?? null);
    const lane = target.closest<HTMLElement>('[data-track]');
    const place = placeIn(event);
    if (!lane || !place) return;
    const trackId = lane.dataset['track']!;
    const track = project.tracks.find(({ id }) => id === trackId);
    const curve = track && curveOfTrack(track);
    const held = curve && (element ? pointAt : isOnLine)(curve, place.frame, place.y, scaleOf(trackId));
    const part = element && partOf(trackId, element.dataset['clip']!, place.frame, place.y);
    const clip = element && project.clips.find(({ id }) => id === element.dataset['clip']);
    const speech = clip && speechUnder(event, clip);
    (element ?? lane).style.cursor = speech
      ? speech.edge
        ? 'ew-resize'
        : 'grab'
      : held || part
        ? 'ns-resize'
        : '';
  };

  const begin = (event: PointerEvent): Gesture | null => {
    const target = event.target as HTMLElement;
    const lane = target.closest<HTMLElement>('[data-track]');
    if (!lane) return null;
    const rect = lane.getBoundingClientRect();
    const frame = (event.clientX - rect.left) * framesPerPixel;
    const built = target.closest<HTMLElement>('[data-clip]')?.dataset['clip'];
    const edge = target.closest<HTMLElement>('[data-edge]')?.dataset['edge'];
    const fade = target.closest<HTMLElement>('[data-fade]')?.dataset['fade'];
    const y = event.clientY - rect.top;
    const hit: Hit | null = built
      ? {
          clipId: built,
          waterline: target.closest('[data-waterline]') !== null,
          edge: edge === 'start' || edge === 'end' ? edge : null,
          fade: fade === 'in' || fade === 'out' ? fade : null,
          part: edge || fade ? null : partOf(lane.dataset['track']!, built, frame, y),
        }
      : hitDrawn(lane.dataset['track']!, frame, y);
    const clip = hit && project.clips.find(({ id }) => id === hit.clipId);
    const trackId = lane.dataset['track']!;
    const onTrack = hit?.edge || hit?.fade ? null : trackGesture(event, trackId, !hit);
    if (onTrack) {
      dragged.current = { ...NOTHING_HELD, trackId, gain: true, point: onTrack.index };
      return onTrack;
    }
    if (hit && clip) return onClip(event, hit, clip);
    const add = event.ctrlKey || event.metaKey || event.shiftKey;
    const onClick = (): void => {
      if (!add) session.select([]);
      session.listening.seek(frame);
    };
    dragged.current = null;
    const start = { x: event.clientX, y: event.clientY, frame };
    const before = add ? session.state.selection : new Set<Id>();
    return new BandGesture(start, framesPerPixel, setBand, {
      select: (drawn) => session.select([...before, ...touched(drawn)]),
      restore: () => session.select(before),
      click: onClick,
    });
  };

  const bind = useGesture(begin, (at) => setDrag(at && dragged.current && { ...at, ...dragged.current }));
  return { drag, band, bind, onPointerMove, onDoubleClick };
}

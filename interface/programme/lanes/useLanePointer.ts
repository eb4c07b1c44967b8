import { useEffect, useEffectEvent, useRef, useState, type MouseEvent, type PointerEvent } from 'react';
import type { CurveSection } from '@/core/programme/curve';
import type { Clip, Id, Project } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import type { FadeSide } from '@/core/programme/edits/fades';
import { inTimeOrder } from '../../commands/clipCommands';
import type { Session } from '../../session/session';
import { pointsOf } from '../../session/state';
import { FadeGesture } from './fadeGesture';
import { addPoint, ownerOf } from '../points/pointActions';
import { BandGesture, type Band } from './band';
import { clipUnder, type ClipHit, type HotClip } from './clipHits';
import { GainGesture, MoveGesture, PartGesture, TrimGesture } from './gestures';
import { gestureOnCurve } from './gestureOnCurve';
import type { PointGesture } from './pointGestures';
import { curveOfClip, curveOfTrack, isOnLine, pointAt, pointsWithin, type LaneScale } from './pointHits';
import { speechAt, SpeechGesture, type SpeechHit } from './speechGesture';
import { luPerPixel, RULER_HEIGHT } from './laneScale';
import { rowAtY, rowIndexAt } from './laneRows';
import { useGesture, type Gesture } from '../../editing/useGesture';
import type { LaneView } from './useLaneView';
import { isSmall, type DrawnClip } from './useVisible';

/** Where something happens. */
interface At {
  readonly target: EventTarget | null;
  readonly clientX: number;
  readonly clientY: number;
}

/** A place on a lane, and what clip lies there. */
interface Spot {
  readonly lane: HTMLElement;
  readonly trackId: Id;
  readonly frame: number;
  /** Pixels from the lane's top. */
  readonly y: number;
  readonly hit: ClipHit | null;
}

type OnClip = Spot & { readonly hit: ClipHit };
const isOnClip = (spot: Spot): spot is OnClip => spot.hit !== null;

/** Whether a part has one level between its ramps. */
const isLevel = ({ curve }: Clip, { from, to, db }: CurveSection): boolean =>
  curve.every((point) => point.at <= from || point.at >= to || point.db === db);

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
  const [hot, setHot] = useState<HotClip | null>(null);
  const { scroller, rows, pixelsPerSecond } = view;
  const heightOf = (trackId: Id): number => rows.find((row) => row.trackId === trackId)?.height ?? 0;
  const framesPerPixel = project.sampleRate / pixelsPerSecond;

  const trackAt = (clientY: number): Id | null => {
    const element = scroller.current;
    if (!element) return null;
    const y = clientY - element.getBoundingClientRect().top - RULER_HEIGHT + element.scrollTop;
    return rowAtY(rows, y)?.trackId ?? null;
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

  /** Where in its lane something is: its track, its frame, how far from the lane's top; and what clip lies there. */
  const placeIn = ({ target, clientX, clientY }: At): Spot | null => {
    const lane = (target as HTMLElement).closest<HTMLElement>('[data-track]');
    if (!lane) return null;
    const rect = lane.getBoundingClientRect();
    const trackId = lane.dataset['track']!;
    const place = { frame: (clientX - rect.left) * framesPerPixel, y: clientY - rect.top };
    return {
      ...place,
      lane,
      trackId,
      hit: clipUnder(visible.get(trackId) ?? [], { ...place, ...scaleOf(trackId) }),
    };
  };

  /** Whether a clip is all that is selected. */
  const isAlone = (clip: Clip): boolean => {
    const { selection } = session.state;
    return selection.size === 1 && selection.has(clip.id);
  };

  /** A drag of points of a selected clip, or of the line between two of them; a part that is level is dragged as a part. */
  const pointGesture = (event: PointerEvent, { hit, ...place }: OnClip): PointGesture | null => {
    const { clip } = hit.drawn;
    if (clip.curve.length === 0 || !isAlone(clip)) return null;
    const lines = !(hit.part && isLevel(clip, hit.part));
    const curve = curveOfClip(hit.drawn, project.target);
    return gestureOnCurve(session, event, ownerOf(clip), curve, place, scaleOf(clip.trackId), lines);
  };

  /** A drag of points of a track's curve; of its line only where no clip lies under it. */
  const trackGesture = (event: PointerEvent, spot: Spot): PointGesture | null => {
    const track = project.tracks.find(({ id }) => id === spot.trackId);
    if (!track || track.curve.length === 0) return null;
    const owner = { kind: 'track', id: track.id } as const;
    return gestureOnCurve(session, event, owner, curveOfTrack(track), spot, scaleOf(track.id), !spot.hit);
  };

  /** What of the speech strip of the one selected clip lies under the pointer. */
  const speechUnder = ({ hit, ...place }: OnClip): SpeechHit | null => {
    const { clip } = hit.drawn;
    if (isSmall(clip, 1 / framesPerPixel) || !isAlone(clip)) return null;
    return speechAt(hit.drawn, place, heightOf(clip.trackId), framesPerPixel, project.sampleRate);
  };

  const speechGesture = (event: PointerEvent, spot: OnClip, onClick: () => void): SpeechGesture | null => {
    const hit = speechUnder(spot);
    const source = hit && project.sources.find(({ id }) => id === hit.sourceId);
    if (!hit || !source) return null;
    const seconds = source.frames / source.sampleRate;
    return new SpeechGesture(session, hit, seconds, event.clientX, 1 / pixelsPerSecond, onClick);
  };

  /** A band over the points of the one selected clip. */
  const pointBand = (event: PointerEvent, { hit, frame, y }: OnClip, onClick: () => void): BandGesture => {
    const { clip } = hit.drawn;
    const start = { x: event.clientX, y: event.clientY, frame };
    const laneTop = event.clientY - y;
    const curve = curveOfClip(hit.drawn, project.target);
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
    const spot = placeIn(event);
    if (!spot) return;
    if (spot.hit) {
      const { clip } = spot.hit.drawn;
      session.select([clip.id], true);
      return addPoint(session, ownerOf(clip), inSource(clip, spot.frame));
    }
    const track = project.tracks.find(({ id }) => id === spot.trackId);
    if (track && isOnLine(curveOfTrack(track), spot.frame, spot.y, scaleOf(track.id)))
      addPoint(session, { kind: 'track', id: track.id }, spot.frame);
  };

  const onClip = (event: PointerEvent, spot: OnClip): Gesture | null => {
    const { hit } = spot;
    const { clip } = hit.drawn;
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
    const onSpeech = hit.edge || hit.waterline ? null : speechGesture(event, spot, onClick);
    if (onSpeech) return onSpeech;
    const onPoint = hit.edge ? null : pointGesture(event, spot);
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
    if (event.shiftKey && single && !hit.waterline) return pointBand(event, spot, onClick);
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

  /** Gets ready for a drag of the clip under the pointer, once for each that it comes to; narrow ones are too many for that. */
  const comeTo = (hit: ClipHit | null): void => {
    const wide = hit && !isSmall(hit.drawn.clip, 1 / framesPerPixel) ? hit : null;
    const clipId = wide?.drawn.clip.id ?? null;
    const edge = wide?.edge ?? null;
    if (clipId === (hot?.clipId ?? null)) {
      if (hot && edge !== hot.edge) setHot({ ...hot, edge });
      return;
    }
    setHot(clipId === null ? null : { clipId, edge });
    if (clipId === null) return;
    const { selection } = session.state;
    session.prepare(selection.has(clipId) ? selection : session.grouped(new Set([clipId])));
  };

  /** What a drag from a place would do, as a cursor. */
  const cursorAt = (spot: Spot): string => {
    const { hit, frame, y, trackId } = spot;
    const speech = isOnClip(spot) && !spot.hit.edge && !spot.hit.waterline ? speechUnder(spot) : null;
    if (hit?.fade || speech?.edge) return 'ew-resize';
    if (hit?.edge) return 'col-resize';
    const track = project.tracks.find(({ id }) => id === trackId);
    const curve = track && curveOfTrack(track);
    const held = curve && (hit ? pointAt : isOnLine)(curve, frame, y, scaleOf(trackId));
    if (!speech && (held || hit?.part || hit?.waterline)) return 'ns-resize';
    return hit ? 'grab' : '';
  };

  /** Shows what can be taken hold of: no element of its own does. */
  const onPointerMove = (event: PointerEvent): void => {
    if (event.buttons !== 0) return;
    const spot = placeIn(event);
    comeTo(spot?.hit ?? null);
    if (spot) spot.lane.style.cursor = cursorAt(spot);
  };
  const onPointerLeave = (event: PointerEvent): void => {
    if (event.buttons === 0) setHot(null);
  };

  // A finger on a line or an edge drags it; the lanes are not scrolled then.
  const isHeld = useEffectEvent((touch: At): boolean => {
    const spot = placeIn(touch);
    return spot !== null && cursorAt(spot).endsWith('-resize');
  });
  const { scrollElement } = view;
  useEffect(() => {
    const onTouch = (event: TouchEvent): void => {
      const [touch] = event.touches;
      if (event.touches.length === 1 && touch && isHeld(touch)) event.preventDefault();
    };
    scrollElement?.addEventListener('touchstart', onTouch, { passive: false });
    return () => scrollElement?.removeEventListener('touchstart', onTouch);
  }, [scrollElement]);

  const begin = (event: PointerEvent): Gesture | null => {
    const spot = placeIn(event);
    if (!spot) return null;
    const { frame, trackId, hit } = spot;
    const onTrack = hit?.edge || hit?.fade ? null : trackGesture(event, spot);
    if (onTrack) {
      dragged.current = { ...NOTHING_HELD, trackId, gain: true, point: onTrack.index };
      return onTrack;
    }
    if (isOnClip(spot)) return onClip(event, spot);
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
  return { drag, band, hot, bind, onPointerMove, onPointerLeave, onDoubleClick };
}

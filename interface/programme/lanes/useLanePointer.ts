import { useRef, useState, type PointerEvent } from 'react';
import type { Clip, Id, Project } from '@/core/programme/model';
import { inTimeOrder } from '../../commands/clipCommands';
import type { Session } from '../../session/session';
import { clipLevel } from '../clipLevel';
import { ChooseGesture, GainGesture, MoveGesture, TrimGesture, type Band, type Gesture } from './gestures';
import { bodyHeight, luPerPixel, NAME_STRIP, RULER_HEIGHT, yOf } from './laneScale';
import { useGesture } from '../useGesture';
import type { LaneView } from './useLaneView';
import type { DrawnClip } from './useVisible';

/** Pixels around a waterline within which a hand takes hold of it. */
const HOLD_PIXELS = 7;

/** What the pointer is on. */
interface Hit {
  readonly clipId: Id;
  readonly waterline: boolean;
  readonly edge: 'start' | 'end' | null;
}

/** What a hand on a clip is doing, and where. */
export interface LaneDrag {
  readonly x: number;
  readonly y: number;
  readonly clipId: Id;
  readonly gain: boolean;
}

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
  const dragged = useRef<{ clipId: Id; gain: boolean } | null>(null);
  const startGesture = useGesture((at) => setDrag(at && dragged.current && { ...at, ...dragged.current }));
  const { scroller, laneHeight, pixelsPerSecond } = view;
  const framesPerPixel = project.sampleRate / pixelsPerSecond;

  const trackAt = (clientY: number): Id | null => {
    const element = scroller.current;
    if (!element) return null;
    const y = clientY - element.getBoundingClientRect().top - RULER_HEIGHT + element.scrollTop;
    return session.project.tracks[Math.floor(y / (laneHeight + 1))]?.id ?? null;
  };

  /** Among the clips that are drawn only, the one under a place. */
  const hitDrawn = (trackId: Id, frame: number, y: number): Hit | null => {
    const found = visible
      .get(trackId)
      ?.findLast(({ clip, small }) => small && clip.start <= frame && frame < clip.start + clip.length);
    if (!found) return null;
    const { relative } = clipLevel(found.measurement, found.clip.gain.db, project.target);
    const line = relative === null ? null : NAME_STRIP + yOf(relative, bodyHeight(laneHeight));
    return {
      clipId: found.clip.id,
      waterline: line !== null && Math.abs(y - line) <= HOLD_PIXELS,
      edge: null,
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

  const onClip = (event: PointerEvent, hit: Hit, clip: Clip): void => {
    const { selection } = session.state;
    const ids = hit.waterline && selection.has(clip.id) && !event.altKey ? selection : choose(event, clip.id);
    setFocused(clip.id);
    if (!ids.has(clip.id)) return;
    const byKey = event.ctrlKey || event.metaKey || event.shiftKey || event.altKey;
    const onClick = (): void => {
      if (!byKey) session.select([clip.id]);
    };
    dragged.current = { clipId: clip.id, gain: hit.waterline };
    const start = { x: event.clientX, y: event.clientY };
    const gesture = (): Gesture => {
      if (hit.edge) return new TrimGesture(session, clip, hit.edge, start.x, framesPerPixel, onClick);
      if (hit.waterline) return new GainGesture(session, clip, ids, start.y, luPerPixel(laneHeight), onClick);
      return new MoveGesture(session, clip, ids, start, framesPerPixel, trackAt, onClick);
    };
    startGesture(gesture());
  };

  /** The clips that a band touches. */
  const touched = ({ from, to, top, bottom }: Band): Id[] => {
    const element = scroller.current;
    if (!element) return [];
    const first = element.getBoundingClientRect().top + RULER_HEIGHT - element.scrollTop;
    const row = (y: number): number => Math.floor((y - first) / (laneHeight + 1));
    const tracks = new Set(
      session.project.tracks.slice(Math.max(0, row(top)), row(bottom) + 1).map(({ id }) => id),
    );
    return session.project.clips
      .filter((clip) => tracks.has(clip.trackId) && clip.start < to && clip.start + clip.length > from)
      .map(({ id }) => id);
  };

  const onPointerDown = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    const target = event.target as HTMLElement;
    const lane = target.closest<HTMLElement>('[data-track]');
    if (!lane) return;
    const rect = lane.getBoundingClientRect();
    const frame = (event.clientX - rect.left) * framesPerPixel;
    const built = target.closest<HTMLElement>('[data-clip]')?.dataset['clip'];
    const edge = target.closest<HTMLElement>('[data-edge]')?.dataset['edge'];
    const hit: Hit | null = built
      ? {
          clipId: built,
          waterline: target.closest('[data-waterline]') !== null,
          edge: edge === 'start' || edge === 'end' ? edge : null,
        }
      : hitDrawn(lane.dataset['track']!, frame, event.clientY - rect.top);
    const clip = hit && project.clips.find(({ id }) => id === hit.clipId);
    if (hit && clip) return onClip(event, hit, clip);
    const add = event.ctrlKey || event.metaKey || event.shiftKey;
    const onClick = (): void => {
      if (!add) session.select([]);
      session.seek(frame);
    };
    dragged.current = null;
    const start = { x: event.clientX, y: event.clientY, frame };
    startGesture(new ChooseGesture(session, start, framesPerPixel, touched, setBand, add, onClick));
  };

  return { drag, band, onPointerDown };
}

'use client';

import {
  closestCenter,
  DndContext,
  DragOverlay,
  KeyboardSensor,
  pointerWithin,
  PointerSensor,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DndContextProps,
  type DragEndEvent,
} from '@dnd-kit/core';
import { restrictToVerticalAxis } from '@dnd-kit/modifiers';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import Box from '@mui/material/Box';
import { useEffect, useRef, useState, type ReactNode, type RefObject } from 'react';
import { moveTrack } from '@/core/programme/edits/project';
import type { Id } from '@/core/programme/model';
import { placeSources, type Place } from '../session/placing';
import { useSession } from '../session/SessionContext';
import type { Session } from '../session/session';
import { START_DISTANCE } from './lanes/laneScale';

/** What is dragged from its place to another: a source onto a lane, a track among the others. */
export type Dragged = { readonly kind: 'source' | 'track'; readonly id: Id; readonly name: string };

const draggedOf = (data: { current?: unknown }): Dragged | null => (data.current as Dragged | null) ?? null;

const nameOf = (item: { readonly data: { current?: unknown } } | null): string =>
  (item && draggedOf(item.data)?.name) ?? '';

/** What is said of a drag to those who do not see it. */
const SAID = {
  screenReaderInstructions: {
    draggable: 'Space picks it up, the arrow keys move it, Space puts it down, Escape cancels.',
  },
  announcements: {
    onDragStart: ({ active }) => `${nameOf(active)} is picked up.`,
    onDragOver: ({ active, over }) =>
      over && over.id !== active.id ? `${nameOf(active)} goes where ${nameOf(over)} is.` : undefined,
    onDragEnd: ({ active }) => `${nameOf(active)} is put down.`,
    onDragCancel: ({ active }) => `${nameOf(active)} stays where it was.`,
  },
} satisfies DndContextProps['accessibility'];

/** A source falls where the pointer is; a track goes to the place that is nearest. */
const collisions: CollisionDetection = (args) =>
  draggedOf(args.active.data)?.kind === 'source' ? pointerWithin(args) : closestCenter(args);

/** The place on a lane under a point of the page; `null` where there is no lane. @param x, y client pixels */
export function laneAt(
  { x, y }: { readonly x: number; readonly y: number },
  sampleRate: number,
  pixelsPerSecond: number,
): Place | null {
  const lane = document
    .elementsFromPoint(x, y)
    .map((element) => element.closest<HTMLElement>('[data-track]'))
    .find((found) => found !== null);
  const trackId = lane?.dataset['track'];
  if (!lane || trackId === undefined) return null;
  const seconds = Math.max(0, (x - lane.getBoundingClientRect().left) / pixelsPerSecond);
  return { trackId, start: Math.round(seconds * sampleRate) };
}

/** Places a source on the lane under the pointer; nowhere else. */
function place(
  session: Session,
  { id }: Dragged,
  point: { readonly x: number; readonly y: number },
  pixelsPerSecond: number,
): void {
  const at = laneAt(point, session.project.sampleRate, pixelsPerSecond);
  const source = session.project.sources.find((candidate) => candidate.id === id);
  if (at && source) placeSources(session, [source], at);
}

/** Everything within it can be dragged by pointer or keys; Escape cancels. */
export function Arrange({
  scale,
  children,
}: {
  /** Pixels per second of the lanes. */
  scale: RefObject<number>;
  children: ReactNode;
}) {
  const session = useSession();
  const [active, setActive] = useState<Dragged | null>(null);
  const pointer = useRef({ x: 0, y: 0 });
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: START_DISTANCE } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  useEffect(() => {
    if (!active) return;
    const onMove = ({ clientX: x, clientY: y }: PointerEvent): void => void (pointer.current = { x, y });
    // Escape is for the drag alone, not for what is selected.
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') event.preventDefault();
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('pointerup', onMove, true);
    window.addEventListener('keydown', onKey, true);
    return () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('pointerup', onMove, true);
      window.removeEventListener('keydown', onKey, true);
    };
  }, [active]);
  const onEnd = ({ active: ended, over }: DragEndEvent): void => {
    setActive(null);
    const dragged = draggedOf(ended.data);
    if (dragged?.kind === 'source') return place(session, dragged, pointer.current, scale.current);
    const onto = over && draggedOf(over.data);
    if (!dragged || onto?.kind !== 'track') return;
    const to = session.project.tracks.findIndex(({ id }) => id === onto.id);
    session.do(`Move track ${dragged.name}`, (project) => moveTrack(project, dragged.id, to));
  };
  return (
    <DndContext
      sensors={sensors}
      accessibility={SAID}
      collisionDetection={collisions}
      modifiers={active?.kind === 'track' ? [restrictToVerticalAxis] : []}
      onDragStart={({ active: started, activatorEvent }) => {
        if (activatorEvent instanceof PointerEvent)
          pointer.current = { x: activatorEvent.clientX, y: activatorEvent.clientY };
        setActive(draggedOf(started.data));
      }}
      onDragEnd={onEnd}
      onDragCancel={() => setActive(null)}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {active?.kind === 'source' && (
          <Box
            sx={{
              px: 1,
              py: 0.5,
              width: 'max-content',
              fontSize: 12.5,
              bgcolor: 'background.paper',
              border: 1,
              borderColor: 'primary.main',
            }}
          >
            {active.name}
          </Box>
        )}
      </DragOverlay>
    </DndContext>
  );
}

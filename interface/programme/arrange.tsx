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
  type DragEndEvent,
} from '@dnd-kit/core';
import { restrictToVerticalAxis } from '@dnd-kit/modifiers';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import Box from '@mui/material/Box';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { placeSource } from '@/core/programme/edits/clips';
import { moveTrack } from '@/core/programme/edits/project';
import type { Id } from '@/core/programme/model';
import { newId } from '../session/newId';
import { useSession } from '../session/SessionContext';
import type { Session } from '../session/session';
import { START_DISTANCE } from './lanes/laneScale';

/** What is dragged from its place to another: a source onto a lane, a track among the others. */
export type Dragged = { readonly kind: 'source' | 'track'; readonly id: Id; readonly name: string };

const draggedOf = (data: { current?: unknown }): Dragged | null => (data.current as Dragged | null) ?? null;

/** A source falls where the pointer is; a track goes to the place that is nearest. */
const collisions: CollisionDetection = (args) =>
  draggedOf(args.active.data)?.kind === 'source' ? pointerWithin(args) : closestCenter(args);

function place(
  session: Session,
  { id, name }: Dragged,
  trackId: Id,
  x: number,
  pixelsPerSecond: number,
): void {
  const lane = document.querySelector(`[data-track="${CSS.escape(trackId)}"]`);
  if (!lane) return;
  const seconds = Math.max(0, (x - lane.getBoundingClientRect().left) / pixelsPerSecond);
  const start = Math.round(seconds * session.project.sampleRate);
  session.do(`Place ${name}`, (project) =>
    placeSource(project, { clipId: newId(), sourceId: id, trackId, start }),
  );
}

/** Everything within it can be dragged by pointer or keys; Escape cancels. */
export function Arrange({ pixelsPerSecond, children }: { pixelsPerSecond: number; children: ReactNode }) {
  const session = useSession();
  const [active, setActive] = useState<Dragged | null>(null);
  const pointer = useRef(0);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: START_DISTANCE } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  useEffect(() => {
    if (!active) return;
    const onMove = ({ clientX }: PointerEvent): void => void (pointer.current = clientX);
    // Escape is for the drag alone, not for what is selected.
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') event.preventDefault();
    };
    window.addEventListener('pointermove', onMove);
    window.addEventListener('keydown', onKey, true);
    return () => {
      window.removeEventListener('pointermove', onMove);
      window.removeEventListener('keydown', onKey, true);
    };
  }, [active]);
  const onEnd = ({ active: ended, over }: DragEndEvent): void => {
    setActive(null);
    const dragged = draggedOf(ended.data);
    const onto = over && draggedOf(over.data);
    if (!dragged || onto?.kind !== 'track') return;
    if (dragged.kind === 'source') return place(session, dragged, onto.id, pointer.current, pixelsPerSecond);
    const to = session.project.tracks.findIndex(({ id }) => id === onto.id);
    session.do(`Move track ${dragged.name}`, (project) => moveTrack(project, dragged.id, to));
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={collisions}
      modifiers={active?.kind === 'track' ? [restrictToVerticalAxis] : []}
      onDragStart={({ active: started, activatorEvent }) => {
        if (activatorEvent instanceof PointerEvent) pointer.current = activatorEvent.clientX;
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

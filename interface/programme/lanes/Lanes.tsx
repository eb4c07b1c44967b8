'use client';

import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import AddIcon from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useMemo, useRef, useState } from 'react';
import { clipEnd, programmeFrames, type Id, type Project } from '@/core/programme/model';
import { addNewTrack } from '../../commands/trackCommands';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { clipStyles } from './clipStyles';
import { DragReadout } from './DragReadout';
import type { Band } from './band';
import { Lane, LanesContext, type LanesShown } from './Lane';
import { rowIndexAt } from './laneRows';
import { RULER_HEIGHT } from './laneScale';
import { Playhead } from './Playhead';
import { RangeBand } from './RangeBand';
import { Ruler } from './Ruler';
import { useStageActions, type SheetActions } from '../useStageActions';
import { useLanePointer } from './useLanePointer';
import type { LaneView } from './useLaneView';
import { useVisible } from './useVisible';

/** The first clip in time: where the keyboard enters the lanes. */
const firstClip = ({ clips }: Project): Id | null =>
  clips.reduce<{ id: Id; start: number } | null>(
    (first, clip) => (first && first.start <= clip.start ? first : clip),
    null,
  )?.id ?? null;

/** What is drawn over the lanes to select what it touches. */
function ChoosingBand({ band, view, sampleRate }: { band: Band; view: LaneView; sampleRate: number }) {
  const top = view.scroller.current?.getBoundingClientRect().top ?? 0;
  const scale = view.pixelsPerSecond / sampleRate;
  return (
    <Box
      aria-hidden
      sx={{
        position: 'absolute',
        zIndex: 2,
        border: '1px dashed',
        borderColor: 'text.primary',
        pointerEvents: 'none',
      }}
      style={{
        left: view.headWidth + band.from * scale,
        width: (band.to - band.from) * scale,
        top: band.top - top + view.scrollTop,
        height: band.bottom - band.top,
      }}
    />
  );
}

interface Props {
  readonly view: LaneView;
  readonly sheetActions: SheetActions;
}

/** All tracks one under the other: the place where clips are laid out and their waterlines dragged. */
export function Lanes({ view, sheetActions }: Props) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const soloed = useSessionState((state) => state.soloed);
  const visible = useVisible(project, view);
  const [focused, setFocused] = useState<Id | null>(null);
  const wantFocus = useRef<Id | null>(null);
  const { attach, pixelsPerSecond, headWidth, rows } = view;
  const { drag, band, hot, bind, onPointerMove, onPointerLeave, onDoubleClick } = useLanePointer({
    ...{ session, project, view, visible, focused, setFocused },
  });

  useEffect(() => {
    session.measurer.look(
      view.scrollLeft / pixelsPerSecond,
      (view.scrollLeft + view.width) / pixelsPerSecond,
    );
  }, [session, view.scrollLeft, view.width, pixelsPerSecond]);

  const sortableIds = useMemo(() => project.tracks.map(({ id }) => `track ${id}`), [project.tracks]);
  const counts = useMemo(() => {
    const map = new Map<Id, number>();
    for (const clip of project.clips) map.set(clip.trackId, (map.get(clip.trackId) ?? 0) + 1);
    return map;
  }, [project.clips]);
  const tabbable = useMemo(
    () => (focused && project.clips.some((clip) => clip.id === focused) ? focused : firstClip(project)),
    [focused, project],
  );

  useEffect(() => {
    if (!wantFocus.current) return;
    const element = document.getElementById(`clip-${wantFocus.current}`);
    if (!element) return;
    wantFocus.current = null;
    element.focus({ preventScroll: true });
    element.scrollIntoView({ block: 'nearest' });
  });

  useStageActions(
    useMemo(
      () => ({
        focusClip: (clipId: Id) => {
          const clip = session.project.clips.find((candidate) => candidate.id === clipId);
          if (!clip) return;
          wantFocus.current = clipId;
          setFocused(clipId);
          const { sampleRate } = session.project;
          view.reveal(clip.start / sampleRate, clipEnd(clip) / sampleRate);
        },
        ...sheetActions,
        zoom: (factor: number) => view.zoom(factor),
        showAll: view.fit,
        showRange: view.show,
        reveal: (seconds: number) => view.reveal(seconds, seconds),
      }),
      [session, view, sheetActions],
    ),
  );

  const seconds = programmeFrames(project) / project.sampleRate;
  const width = Math.max(view.width, seconds * pixelsPerSecond + 12);
  /** Which lanes lie in sight, or within one lane of it. */
  const firstLane = rowIndexAt(rows, view.scrollTop - RULER_HEIGHT) - 1;
  const lastLane = rowIndexAt(rows, view.scrollTop + view.height) + 1;
  const shown = useMemo(
    (): LanesShown => ({ view, visible, selection, tabbable, hot, firstLane, lastLane }),
    [view, visible, selection, tabbable, hot, firstLane, lastLane],
  );
  return (
    <Box
      ref={attach}
      {...bind()}
      onPointerMove={onPointerMove}
      onPointerLeave={onPointerLeave}
      onDoubleClick={onDoubleClick}
      sx={{
        flex: 1,
        minHeight: 0,
        overflow: 'auto',
        position: 'relative',
        userSelect: 'none',
        ...clipStyles,
      }}
    >
      <Box sx={{ position: 'relative' }} style={{ width: headWidth + width }}>
        <Ruler view={view} />
        <SortableContext items={sortableIds} strategy={verticalListSortingStrategy}>
          <LanesContext value={shown}>
            {project.tracks.map((track, index) => (
              <Lane
                key={track.id}
                track={track}
                index={index}
                clipCount={counts.get(track.id) ?? 0}
                target={project.target}
                sampleRate={project.sampleRate}
                laneHeight={rows[index]!.height}
                headWidth={headWidth}
                silent={track.muted || (soloed.size > 0 && !soloed.has(track.id))}
              />
            ))}
          </LanesContext>
        </SortableContext>
        <RangeBand view={view} />
        <Playhead view={view} />
        {band && <ChoosingBand band={band} view={view} sampleRate={project.sampleRate} />}
        <Box sx={{ position: 'sticky', left: 0, width: headWidth, p: 0.75 }}>
          <Button color="inherit" startIcon={<AddIcon />} onClick={() => addNewTrack(session)}>
            Add track
          </Button>
        </Box>
      </Box>
      {drag?.gain && <DragReadout {...drag} />}
    </Box>
  );
}

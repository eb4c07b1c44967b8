'use client';

import { sourceKey } from '@/storage/measurements';
import AddIcon from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import { totalDbOf } from '@/core/programme/clipGain';
import { clipEnd, PLAIN_TRACK, type Id, type Project } from '@/core/programme/model';
import { addTrack } from '@/core/programme/edits/project';
import { placeSource } from '@/core/programme/edits/clips';
import { withBaseGain } from '@/core/render/measureClip';
import { clipKey } from '@/core/render/clipKey';
import { newId } from '../session/newId';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { DragReadout } from './DragReadout';
import { GainGesture, MoveGesture, TrimGesture } from './gestures';
import { Lane } from './Lane';
import type { DrawnClip } from './LaneCanvas';
import { HEAD_WIDTH, RULER_HEIGHT } from './laneScale';
import { Ruler } from './Ruler';
import { useGesture } from './useGesture';
import { inTimeOrder, useLaneKeys } from './useLaneKeys';
import type { LaneView } from './useLaneView';
import { usePlayhead } from './usePlayhead';

/** Pixels beyond the edge within which clips are kept ready. */
const MARGIN = 200;

/** The clips in sight, by track, with all that their drawing needs. */
function useVisible(project: Project, view: LaneView): ReadonlyMap<Id, DrawnClip[]> {
  const overviews = useSessionState((state) => state.sourceMeasurements);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const missing = useSessionState((state) => state.missingAudio);
  const { pixelsPerSecond, scrollLeft, width } = view;
  return useMemo(() => {
    const sources = new Map(project.sources.map((source) => [source.id, source]));
    const totalDb = totalDbOf(project);
    const from = ((scrollLeft - MARGIN) / pixelsPerSecond) * project.sampleRate;
    const to = ((scrollLeft + width + MARGIN) / pixelsPerSecond) * project.sampleRate;
    const byTrack = new Map<Id, DrawnClip[]>(project.tracks.map((track) => [track.id, []]));
    for (const clip of project.clips) {
      if (clipEnd(clip) < from || clip.start > to) continue;
      const source = sources.get(clip.sourceId);
      const key = clipKey(project, clip);
      const measurement = key === null ? undefined : measurements.get(key);
      byTrack.get(clip.trackId)?.push({
        clip,
        source,
        missing: source === undefined || missing.has(source.audioKey),
        overview: source && overviews.get(sourceKey(source)),
        totalDb: totalDb(clip),
        measurement: measurement ? withBaseGain(measurement, totalDb(clip) - clip.gain.db) : null,
      });
    }
    return byTrack;
  }, [project, overviews, measurements, missing, pixelsPerSecond, scrollLeft, width]);
}

function Playhead({ view }: { view: LaneView }) {
  const line = useRef<HTMLDivElement>(null);
  const { sampleRate } = useProject();
  const { pixelsPerSecond } = view;
  usePlayhead(
    line,
    useCallback(
      (element, frame) => {
        element.style.transform = `translateX(${(frame / sampleRate) * pixelsPerSecond}px)`;
      },
      [sampleRate, pixelsPerSecond],
    ),
  );
  return (
    <Box
      ref={line}
      aria-hidden
      sx={{
        position: 'absolute',
        left: HEAD_WIDTH,
        top: 0,
        bottom: 0,
        width: '1px',
        bgcolor: 'text.primary',
        zIndex: 2,
        pointerEvents: 'none',
      }}
    />
  );
}

interface Props {
  readonly view: LaneView;
  readonly onEditGain: () => void;
  readonly onOpenLevel: () => void;
}

/** All tracks one under the other: the place where clips are laid out and their waterlines dragged. */
export function Lanes({ view, onEditGain, onOpenLevel }: Props) {
  const session = useSession();
  const project = useProject();
  const selection = useSessionState((state) => state.selection);
  const soloed = useSessionState((state) => state.soloed);
  const visible = useVisible(project, view);
  const [drag, setDrag] = useState<{ x: number; y: number; clipId: Id; gain: boolean } | null>(null);
  const [focused, setFocused] = useState<Id | null>(null);
  const wantFocus = useRef<Id | null>(null);
  const dragged = useRef<{ clipId: Id; gain: boolean }>({ clipId: '', gain: false });
  const startGesture = useGesture((at) => setDrag(at && { ...at, ...dragged.current }));
  const { scroller, pixelsPerSecond, laneHeight } = view;
  const framesPerPixel = project.sampleRate / pixelsPerSecond;

  useEffect(() => {
    session.look(view.scrollLeft / pixelsPerSecond, (view.scrollLeft + view.width) / pixelsPerSecond);
  }, [session, view.scrollLeft, view.width, pixelsPerSecond]);

  const counts = useMemo(() => {
    const map = new Map<Id, number>();
    for (const clip of project.clips) map.set(clip.trackId, (map.get(clip.trackId) ?? 0) + 1);
    return map;
  }, [project.clips]);
  const tabbable = useMemo(
    () =>
      focused && project.clips.some((clip) => clip.id === focused)
        ? focused
        : (inTimeOrder(project)[0] ?? null),
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

  const hands = useMemo(
    () => ({
      focus: (clipId: Id) => {
        const clip = session.project.clips.find((candidate) => candidate.id === clipId);
        if (!clip) return;
        wantFocus.current = clipId;
        setFocused(clipId);
        view.reveal(clip.start / project.sampleRate, clipEnd(clip) / project.sampleRate);
      },
      editGain: onEditGain,
      openLevel: onOpenLevel,
    }),
    [session, view, project.sampleRate, onEditGain, onOpenLevel],
  );
  const onKeyDown = useLaneKeys(session, hands);

  const trackAt = useCallback(
    (clientY: number): Id | null => {
      const element = scroller.current;
      if (!element) return null;
      const y = clientY - element.getBoundingClientRect().top - RULER_HEIGHT + element.scrollTop;
      return session.project.tracks[Math.floor(y / (laneHeight + 1))]?.id ?? null;
    },
    [scroller, session, laneHeight],
  );

  const chooseClip = (event: PointerEvent, clipId: Id): ReadonlySet<Id> => {
    if (event.ctrlKey || event.metaKey) {
      const next = new Set(selection);
      if (!next.delete(clipId)) next.add(clipId);
      session.select(next);
      return next;
    }
    if (event.shiftKey && focused && !selection.has(clipId)) {
      const order = inTimeOrder(project);
      const [a, b] = [order.indexOf(focused), order.indexOf(clipId)].sort((x, y) => x - y) as [
        number,
        number,
      ];
      const range = new Set([...selection, ...order.slice(Math.max(0, a), b + 1)]);
      session.select(range);
      return range;
    }
    if (selection.has(clipId)) return selection;
    session.select([clipId]);
    return new Set([clipId]);
  };

  const onPointerDown = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    const target = event.target as HTMLElement;
    const clipId = target.closest<HTMLElement>('[data-clip]')?.dataset['clip'];
    const lane = target.closest<HTMLElement>('[data-track]');
    if (!clipId) {
      if (!lane) return;
      session.select([]);
      session.seek(
        ((event.clientX - lane.getBoundingClientRect().left) / pixelsPerSecond) * project.sampleRate,
      );
      return;
    }
    const clip = project.clips.find((candidate) => candidate.id === clipId);
    if (!clip) return;
    const onWaterline = target.closest('[data-waterline]') !== null;
    const ids = onWaterline && selection.has(clipId) ? selection : chooseClip(event, clipId);
    setFocused(clipId);
    if (!ids.has(clipId)) return;
    const chosenByKey = event.ctrlKey || event.metaKey || event.shiftKey;
    const onClick = (): void => {
      if (!chosenByKey) session.select([clipId]);
    };
    dragged.current = { clipId, gain: onWaterline };
    const edge = target.closest<HTMLElement>('[data-edge]')?.dataset['edge'];
    if (edge === 'start' || edge === 'end') {
      startGesture(new TrimGesture(session, clip, edge, event.clientX, framesPerPixel, onClick));
      return;
    }
    startGesture(
      onWaterline
        ? new GainGesture(session, clip, ids, event.clientY, laneHeight, onClick)
        : new MoveGesture(
            session,
            clip,
            ids,
            { x: event.clientX, y: event.clientY },
            framesPerPixel,
            trackAt,
            onClick,
          ),
    );
  };

  const dropSource = useCallback(
    (sourceId: Id, trackId: Id, seconds: number) => {
      const source = session.project.sources.find((candidate) => candidate.id === sourceId);
      const start = seconds * session.project.sampleRate;
      session.do(`Place ${source?.name ?? 'a clip'}`, (current) =>
        placeSource(current, { clipId: newId(), sourceId, trackId, start }),
      );
    },
    [session],
  );

  const seconds = project.clips.reduce((end, clip) => Math.max(end, clipEnd(clip)), 0) / project.sampleRate;
  const width = Math.max(view.width, seconds * pixelsPerSecond + 12);
  return (
    <Box
      ref={scroller}
      onKeyDown={onKeyDown}
      onPointerDown={onPointerDown}
      sx={{ flex: 1, minHeight: 0, overflow: 'auto', position: 'relative', userSelect: 'none' }}
    >
      <Box sx={{ position: 'relative' }} style={{ width: HEAD_WIDTH + width }}>
        <Ruler view={view} onSeek={(at) => session.seek(at * project.sampleRate)} />
        {project.tracks.map((track) => (
          <Lane
            key={track.id}
            track={track}
            clips={visible.get(track.id) ?? []}
            clipCount={counts.get(track.id) ?? 0}
            target={project.target}
            sampleRate={project.sampleRate}
            view={view}
            selection={selection}
            tabbable={tabbable}
            silent={track.muted || (soloed.size > 0 && !soloed.has(track.id))}
            onDropSource={dropSource}
          />
        ))}
        <Playhead view={view} />
        <Box sx={{ position: 'sticky', left: 0, width: HEAD_WIDTH, p: 0.75 }}>
          <Button
            color="inherit"
            startIcon={<AddIcon />}
            onClick={() => {
              const name = `Track ${project.tracks.length + 1}`;
              session.do(`Add ${name}`, (current) =>
                addTrack(current, { id: newId(), name, role: 'dialogue', ...PLAIN_TRACK }),
              );
            }}
          >
            Add track
          </Button>
        </Box>
      </Box>
      {drag?.gain && <DragReadout {...drag} />}
    </Box>
  );
}

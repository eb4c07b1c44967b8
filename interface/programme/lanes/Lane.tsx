'use client';

import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import GripIcon from '@mui/icons-material/DragIndicator';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { createContext, memo, use, useDeferredValue, useMemo } from 'react';
import type { Id, Project, Track } from '@/core/programme/model';
import { ClipBox } from './ClipBox';
import type { HotClip } from './clipHits';
import { LaneCanvas } from './LaneCanvas';
import { bodyHeight, NAME_STRIP, yOf } from './laneScale';
import { TrackHead } from '../tracks/TrackHead';
import type { Dragged } from '../arrange';
import { useSessionState } from '../../session/SessionContext';
import type { SelectedPoints } from '../../session/state';
import { useViewSettings } from '../viewSettings';
import type { LaneView } from './useLaneView';
import { isSmall, type DrawnClip } from './useVisible';

/** What of the lanes changes with every scroll: only what shows it follows. */
export interface LanesShown {
  readonly view: LaneView;
  /** Clips in sight, by track. */
  readonly visible: ReadonlyMap<Id, readonly DrawnClip[]>;
  readonly selection: ReadonlySet<Id>;
  readonly tabbable: Id | null;
  readonly hot: HotClip | null;
  /** First and last of the tracks that lie where they can be seen, or nearly. */
  readonly firstLane: number;
  readonly lastLane: number;
}

export const LanesContext = createContext<LanesShown | null>(null);

interface Props {
  readonly track: Track;
  /** Among the tracks. */
  readonly index: number;
  /** All clips of the track, those out of sight included. */
  readonly clipCount: number;
  readonly target: Project['target'];
  readonly sampleRate: number;
  readonly laneHeight: number;
  readonly headWidth: number;
  readonly silent: boolean;
}

/** The horizon and its tolerance, behind the clips. */
const Horizon = memo(function Horizon({
  target,
  laneHeight,
}: {
  target: Project['target'];
  laneHeight: number;
}) {
  const at = (lu: number): number => NAME_STRIP + yOf(lu, bodyHeight(laneHeight));
  const top = at(target.toleranceLu);
  return (
    <Box aria-hidden sx={{ position: 'absolute', inset: 0 }}>
      <Box
        sx={{ position: 'absolute', left: 0, right: 0, bgcolor: 'sheet.band' }}
        style={{ top, height: Math.max(2, at(-target.toleranceLu) - top) }}
      />
      <Box
        sx={{
          position: 'absolute',
          left: 0,
          right: 0,
          borderTop: '1px dashed',
          borderColor: 'sheet.horizon',
        }}
        style={{ top: at(0) }}
      />
    </Box>
  );
});

/** Selected points, where they are the track's own or those of one of its clips. */
function ownPoints(
  points: SelectedPoints | null,
  trackId: Id,
  clips: readonly DrawnClip[],
): SelectedPoints | null {
  const owner = points?.owner;
  if (!owner || owner.kind === 'programme') return null;
  const own = owner.kind === 'track' ? owner.id === trackId : clips.some(({ clip }) => clip.id === owner.id);
  return own ? points : null;
}

const NONE: readonly DrawnClip[] = [];

/** What of a track is in sight: its waveforms, and its clips where they are wide enough to be more than drawn. */
function LaneContent({ track, index, target, sampleRate, laneHeight, silent }: Omit<Props, 'clipCount'>) {
  const { view, visible, selection, tabbable, hot, firstLane, lastLane } = use(LanesContext)!;
  const clips = visible.get(track.id) ?? NONE;
  const inSight = index >= firstLane && index <= lastLane;
  const { mirrored, loudness } = useViewSettings();
  // Only lanes with a limiter are drawn anew with what limiters do.
  const limited = track.limiter !== null || clips.some(({ clip }) => clip.limiter !== null);
  const reductions = useSessionState((state) => (limited ? (state.programme?.reductions ?? null) : null));
  // Only the lane that has them is drawn anew with them.
  const points = useSessionState((state) => ownPoints(state.points, track.id, clips));
  const { pixelsPerSecond } = view;
  const pixelsPerFrame = pixelsPerSecond / sampleRate;
  const built = clips.filter(
    ({ clip }) => (inSight && !isSmall(clip, pixelsPerFrame)) || clip.id === tabbable,
  );
  return (
    <div
      {...(built.length > 0 && {
        role: 'listbox',
        'aria-multiselectable': true,
        'aria-label': `Clips of ${track.name}`,
      })}
      data-lanes
      data-track={track.id}
      style={{
        position: 'relative',
        flex: 1,
        height: laneHeight,
        background: 'var(--mui-palette-sheet-lane)',
        opacity: silent ? 0.45 : 1,
        // The clips' scale: here, as the heads beside them would all be styled anew with it.
        ['--second' as string]: `${pixelsPerSecond}px`,
      }}
    >
      <Horizon target={target} laneHeight={laneHeight} />
      {inSight && (
        <LaneCanvas
          clips={clips}
          selection={selection}
          hot={hot && clips.some(({ clip }) => clip.id === hot.clipId) ? hot : null}
          sampleRate={sampleRate}
          target={target}
          pixelsPerSecond={pixelsPerSecond}
          headWidth={view.headWidth}
          scrollLeft={view.scrollLeft}
          width={view.width}
          height={laneHeight}
          mirrored={mirrored}
          loudness={loudness}
          points={points}
          trackId={track.id}
          trackCurve={track.curve}
          reductions={reductions}
        />
      )}
      {built.map(({ clip, measurement, missing, groupName }) => (
        <ClipBox
          key={clip.id}
          clip={clip}
          measurement={measurement}
          missing={missing}
          target={target}
          trackName={track.name}
          groupName={groupName}
          sampleRate={sampleRate}
          laneHeight={laneHeight}
          selected={selection.has(clip.id)}
          tabbable={clip.id === tabbable}
        />
      ))}
    </div>
  );
}

/** So many heads are there with the first picture of the stage: as many lanes as most windows show. */
const HEADS_AT_ONCE = 7;

/** One track: its head, its waveforms, its clips. */
export const Lane = memo(function Lane(props: Props) {
  const { track, clipCount, target, laneHeight, headWidth } = props;
  const dragged = useMemo(
    (): Dragged => ({ kind: 'track', id: track.id, name: track.name }),
    [track.id, track.name],
  );
  const sortable = useSortable({ id: `track ${track.id}`, data: dragged });
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition } = sortable;
  const { isDragging, isOver, active } = sortable;
  // Heads are the costliest things here: those out of sight come right after the stage has been shown.
  const headThere = useDeferredValue(true, props.index < HEADS_AT_ONCE);
  // One and the same while nothing of it changes: the head is not drawn again with every scroll.
  const grip = useMemo(
    () => (
      <IconButton
        ref={setActivatorNodeRef}
        {...attributes}
        {...listeners}
        size="small"
        aria-label={`Move track ${track.name}`}
        title="Drag to another place; or Space, ↑ ↓, Space"
        sx={{ p: 0, cursor: 'grab', touchAction: 'none' }}
      >
        <GripIcon sx={{ fontSize: 15 }} />
      </IconButton>
    ),
    [setActivatorNodeRef, attributes, listeners, track.name],
  );
  return (
    <Box
      ref={setNodeRef}
      sx={{
        display: 'flex',
        borderBottom: 1,
        borderColor: 'divider',
        ...(isDragging && { position: 'relative', zIndex: 4, opacity: 0.8 }),
        ...(isOver &&
          active?.data.current?.['kind'] === 'source' && {
            outline: '2px solid',
            outlineColor: 'primary.main',
            outlineOffset: -2,
          }),
      }}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      {headThere ? (
        <TrackHead
          track={track}
          clips={clipCount}
          target={target}
          laneHeight={laneHeight}
          width={headWidth}
          grip={grip}
        />
      ) : (
        <div style={{ width: headWidth, height: laneHeight, flex: 'none' }} />
      )}
      <LaneContent {...props} />
    </Box>
  );
});

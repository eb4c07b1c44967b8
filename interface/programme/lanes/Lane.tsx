'use client';

import Box from '@mui/material/Box';
import { memo } from 'react';
import type { Id, Project, Track } from '@/core/programme/model';
import { ClipBox } from './ClipBox';
import { LaneCanvas } from './LaneCanvas';
import { bodyHeight, NAME_STRIP, yOf } from './laneScale';
import { TrackHead } from '../tracks/TrackHead';
import { useLook } from '../look';
import type { LaneView } from './useLaneView';
import type { DrawnClip } from './useVisible';

/** What a source dragged from the tray is known by. */
export const SOURCE_DRAG_TYPE = 'application/x-dengung-source';

interface Props {
  readonly track: Track;
  readonly clips: readonly DrawnClip[];
  /** All clips of the track, those out of sight included. */
  readonly clipCount: number;
  readonly target: Project['target'];
  readonly sampleRate: number;
  readonly view: LaneView;
  readonly selection: ReadonlySet<Id>;
  readonly tabbable: Id | null;
  readonly silent: boolean;
  /** It lies where it can be seen, or nearly. */
  readonly inSight: boolean;
  readonly onDropSource: (sourceId: Id, trackId: Id, seconds: number) => void;
}

/** The horizon and its tolerance, behind the clips. */
function Horizon({ target, laneHeight }: { target: Project['target']; laneHeight: number }) {
  const at = (lu: number): number => NAME_STRIP + yOf(lu, bodyHeight(laneHeight));
  const top = at(target.toleranceLu);
  return (
    <>
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
    </>
  );
}

/** One track: its head, its waveforms, its clips. */
export const Lane = memo(function Lane(props: Props) {
  const {
    track,
    clips,
    clipCount,
    target,
    sampleRate,
    view,
    selection,
    tabbable,
    silent,
    inSight,
    onDropSource,
  } = props;
  const { mirrored, loudness } = useLook();
  const built = clips.filter(({ clip, small }) => (inSight && !small) || clip.id === tabbable);
  const { pixelsPerSecond, laneHeight } = view;
  return (
    <Box sx={{ display: 'flex', borderBottom: 1, borderColor: 'divider' }}>
      <TrackHead track={track} clips={clipCount} target={target} laneHeight={laneHeight} />
      <Box
        {...(built.length > 0 && {
          role: 'listbox',
          'aria-multiselectable': true,
          'aria-label': `Clips of ${track.name}`,
        })}
        data-lanes
        data-track={track.id}
        sx={{
          position: 'relative',
          flex: 1,
          height: laneHeight,
          bgcolor: 'sheet.lane',
          opacity: silent ? 0.45 : 1,
        }}
        onDragOver={(event) => {
          if (event.dataTransfer.types.includes(SOURCE_DRAG_TYPE)) event.preventDefault();
        }}
        onDrop={(event) => {
          const sourceId = event.dataTransfer.getData(SOURCE_DRAG_TYPE);
          if (!sourceId) return;
          event.preventDefault();
          onDropSource(
            sourceId,
            track.id,
            (event.clientX - event.currentTarget.getBoundingClientRect().left) / pixelsPerSecond,
          );
        }}
      >
        <Box aria-hidden sx={{ position: 'absolute', inset: 0 }}>
          <Horizon target={target} laneHeight={laneHeight} />
        </Box>
        {inSight && (
          <LaneCanvas
            clips={clips}
            selection={selection}
            sampleRate={sampleRate}
            target={target}
            pixelsPerSecond={pixelsPerSecond}
            scrollLeft={view.scrollLeft}
            width={view.width}
            height={laneHeight}
            mirrored={mirrored}
            loudness={loudness}
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
            left={(clip.start / sampleRate) * pixelsPerSecond}
            width={(clip.length / sampleRate) * pixelsPerSecond}
            laneHeight={laneHeight}
            selected={selection.has(clip.id)}
            tabbable={clip.id === tabbable}
          />
        ))}
      </Box>
    </Box>
  );
});

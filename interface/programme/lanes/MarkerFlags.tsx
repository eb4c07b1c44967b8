'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import { memo, useRef, useState } from 'react';
import { changeMarker, removeMarker } from '@/core/programme/edits/markers';
import type { Marker, Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { useProject, useSession } from '../../session/SessionContext';
import type { Session } from '../../session/session';
import { useGesture, type Gesture } from '../../editing/useGesture';
import { RULER_HEIGHT, START_DISTANCE } from './laneScale';
import { SnapEdges } from './snapEdges';
import { useTyped } from '../../editing/useTyped';
import { PlaceField } from '../../editing/PlaceField';
import type { LaneView } from './useLaneView';

/** Drags a marker along the ruler; snaps unless Alt is held. */
class MarkerGesture implements Gesture {
  private readonly edges: SnapEdges;
  private at: number | null = null;

  constructor(
    private readonly session: Session,
    private readonly marker: Marker,
    private readonly startX: number,
    private readonly framesPerPixel: number,
    /** Told once it moves: then it is no press. */
    private readonly onMoved: () => void,
  ) {
    this.edges = new SnapEdges(session, new Set(), framesPerPixel);
  }

  private edit(project: Project): Project {
    return this.at === null ? project : changeMarker(project, this.marker.id, { at: this.at });
  }

  move(event: PointerEvent): void {
    const by = event.clientX - this.startX;
    if (this.at === null && Math.abs(by) < START_DISTANCE) return;
    this.onMoved();
    const wanted = this.marker.at + by * this.framesPerPixel;
    this.at = wanted + (event.altKey ? 0 : this.edges.pull(wanted));
    this.session.setPreview(this.edit(this.session.project));
  }

  finish(): void {
    if (this.at !== null) this.session.do(`Move marker ${this.marker.name}`, (project) => this.edit(project));
  }

  cancel(): void {
    this.session.setPreview(null);
  }
}

function MarkerEditor({ marker, onClose }: { marker: Marker; onClose: () => void }) {
  const session = useSession();
  const { handlers } = useTyped(marker.name, (text) => {
    const name = text.trim().slice(0, 80);
    if (name !== '')
      session.do(`Rename marker to ${name}`, (project) => changeMarker(project, marker.id, { name }));
    return null;
  });
  return (
    <Box sx={{ p: 2, width: 260, display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <TextField
        label="Marker"
        autoFocus
        {...handlers}
        onKeyDown={(event) => {
          handlers.onKeyDown(event);
          if (event.key === 'Enter') onClose();
        }}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <PlaceField
        label="Place"
        frame={marker.at}
        onPlace={(at) =>
          session.do(`Move marker ${marker.name}`, (project) => changeMarker(project, marker.id, { at }))
        }
      />
      <Button
        color="inherit"
        onClick={() => {
          onClose();
          session.do(`Remove marker ${marker.name}`, (project) => removeMarker(project, marker.id));
        }}
        sx={{ alignSelf: 'start' }}
      >
        Remove marker
      </Button>
    </Box>
  );
}

interface FlagProps {
  readonly marker: Marker;
  /** Pixels per frame. */
  readonly scale: number;
  readonly onOpen: (anchor: HTMLElement) => void;
}

function Flag({ marker, scale, onOpen }: FlagProps) {
  const session = useSession();
  const project = useProject();
  const moved = useRef(false);
  const bind = useGesture((event) => {
    // The ruler under it is not meant.
    event.stopPropagation();
    moved.current = false;
    const onMoved = (): void => void (moved.current = true);
    return new MarkerGesture(session, marker, event.clientX, 1 / scale, onMoved);
  });
  return (
    <Box
      {...bind()}
      component="button"
      data-marker={marker.name}
      aria-label={`Marker ${marker.name}, ${placeText(project, marker.at)}`}
      onClick={(event) => {
        if (moved.current) return;
        if (session.state.playhead === marker.at) onOpen(event.currentTarget);
        else session.listening.seek(marker.at);
      }}
      sx={{
        position: 'absolute',
        top: 3,
        height: RULER_HEIGHT - 6,
        maxWidth: 120,
        px: 0.75,
        border: 1,
        borderColor: 'text.secondary',
        borderLeftWidth: 3,
        bgcolor: 'background.paper',
        color: 'text.primary',
        font: 'inherit',
        lineHeight: 1,
        overflow: 'hidden',
        textOverflow: 'ellipsis',
        whiteSpace: 'nowrap',
        cursor: 'pointer',
      }}
      style={{ left: marker.at * scale }}
    >
      {marker.name}
    </Box>
  );
}

/** The markers on the ruler: a press goes there, another one opens name and place; a drag moves one. */
export const MarkerFlags = memo(function MarkerFlags({ pixelsPerSecond }: Pick<LaneView, 'pixelsPerSecond'>) {
  const project = useProject();
  const [open, setOpen] = useState<{ readonly id: string; readonly anchor: HTMLElement } | null>(null);
  const scale = pixelsPerSecond / project.sampleRate;
  const editing = project.markers.find(({ id }) => id === open?.id);
  return (
    <>
      {project.markers.map((marker) => (
        <Flag
          key={marker.id}
          marker={marker}
          scale={scale}
          onOpen={(anchor) => setOpen({ id: marker.id, anchor })}
        />
      ))}
      <Popover
        open={editing !== undefined}
        anchorEl={open?.anchor ?? null}
        onClose={() => setOpen(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Marker' } }}
      >
        {editing && <MarkerEditor key={editing.id} marker={editing} onClose={() => setOpen(null)} />}
      </Popover>
    </>
  );
});

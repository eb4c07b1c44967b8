'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { changeMarker, removeMarker } from '@/core/programme/edits/markers';
import type { Marker } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { useProject, useSession } from '../../session/SessionContext';
import { RULER_HEIGHT } from './laneScale';
import { PlaceField } from '../PlaceField';
import type { LaneView } from './useLaneView';

function MarkerEditor({ marker, onClose }: { marker: Marker; onClose: () => void }) {
  const session = useSession();
  const [name, setName] = useState(marker.name);
  const rename = (): void => {
    const wanted = name.trim().slice(0, 80);
    if (wanted && wanted !== marker.name)
      session.do(`Rename marker to ${wanted}`, (project) =>
        changeMarker(project, marker.id, { name: wanted }),
      );
  };
  return (
    <Box sx={{ p: 2, width: 260, display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <TextField
        label="Marker"
        autoFocus
        value={name}
        onChange={(event) => setName(event.target.value)}
        onBlur={rename}
        onKeyDown={(event) => {
          if (event.key !== 'Enter') return;
          rename();
          onClose();
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

/** The markers on the ruler: a press goes there, another one opens name and place. */
export function MarkerFlags({ view }: { view: LaneView }) {
  const session = useSession();
  const project = useProject();
  const [open, setOpen] = useState<{ readonly id: string; readonly anchor: HTMLElement } | null>(null);
  const scale = view.pixelsPerSecond / project.sampleRate;
  const editing = project.markers.find(({ id }) => id === open?.id);
  return (
    <>
      {project.markers.map((marker) => (
        <Box
          key={marker.id}
          component="button"
          data-marker={marker.name}
          aria-label={`Marker ${marker.name}, ${placeText(project, marker.at)}`}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={(event) => {
            if (session.state.playhead === marker.at) setOpen({ id: marker.id, anchor: event.currentTarget });
            else session.seek(marker.at);
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
}

'use client';

import { useDraggable } from '@dnd-kit/core';
import { sourceKey } from '@/storage/measurements';
import PlaceIcon from '@mui/icons-material/LowPriority';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useState, type PointerEventHandler } from 'react';
import { appendSources } from '@/core/programme/edits/clips';
import type { Source } from '@/core/programme/model';
import { clock, figure } from '@/core/text/figures';
import { newId } from '../../session/newId';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import type { Dragged } from '../arrange';
import { StageLink } from '../../shell/StageLink';

function Item({ source, integrated }: { source: Source; integrated: number | null | undefined }) {
  const session = useSession();
  const { tracks } = useProject();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const dragged: Dragged = { kind: 'source', id: source.id, name: source.name };
  const { setNodeRef, listeners } = useDraggable({ id: `source ${source.id}`, data: dragged });
  return (
    <Box
      component="li"
      ref={setNodeRef}
      data-tray={source.name}
      // By keys a source is placed through its menu.
      onPointerDown={listeners?.['onPointerDown'] as PointerEventHandler | undefined}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.75,
        py: 0.25,
        fontSize: 12.5,
        cursor: 'grab',
        touchAction: 'none',
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <Box
        sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        title={source.name}
      >
        {source.name.replace(/\.[^.]+$/, '')}
      </Box>
      <Box sx={{ color: 'text.secondary', fontSize: 11.5, whiteSpace: 'nowrap' }}>
        {clock(source.frames / source.sampleRate)} · {figure(integrated)}
      </Box>
      <Tooltip title="Place at the end of a track">
        <IconButton
          size="small"
          aria-label={`Place ${source.name}`}
          aria-haspopup="menu"
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          <PlaceIcon sx={{ fontSize: 16 }} />
        </IconButton>
      </Tooltip>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        {tracks.map((track) => (
          <MenuItem
            key={track.id}
            onClick={() => {
              setAnchor(null);
              session.do(`Place ${source.name} on ${track.name}`, (project) =>
                appendSources(project, track.id, [{ clipId: newId(), sourceId: source.id }]),
              );
            }}
          >
            At the end of {track.name}
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}

/** With nothing chosen: the sources, to be dragged onto a track, and the keys of the lanes. */
export function SourceTray() {
  const session = useSession();
  const { id, sources } = useProject();
  const measurements = useSessionState((state) => state.sourceMeasurements);
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
      <Typography variant="h2">Sources to place</Typography>
      {sources.length === 0 ? (
        <Box sx={{ color: 'text.secondary' }}>
          There are none yet.{' '}
          <StageLink projectId={id} stage="sources">
            Add files
          </StageLink>
        </Box>
      ) : (
        <>
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
            Drag one onto a track. Shown: length and LUFS as recorded.
          </Box>
          <Box component="ul" aria-label="Sources to place" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {sources.map((source) => (
              <Item
                key={source.id}
                source={source}
                integrated={measurements.get(sourceKey(source))?.figures.integratedLufs}
              />
            ))}
          </Box>
        </>
      )}
      <Box component="section" aria-label="Hints" sx={{ fontSize: 12, color: 'text.secondary' }}>
        <Typography variant="h3" component="h3" sx={{ color: 'text.primary', mb: 0.5 }}>
          On the lanes
        </Typography>
        Drag a clip’s line to set its gain; with Shift, ten times finer. Drag over the ruler for a range, over
        empty lanes to select clips. Ctrl and wheel zoom.
        <Box sx={{ mt: 0.75 }}>
          <Button color="inherit" onClick={() => session.showCommands('map')} sx={{ px: 0.5 }}>
            All keys (?)
          </Button>
          <Button color="inherit" onClick={() => session.showCommands('palette')} sx={{ px: 0.5 }}>
            Find a command (Ctrl K)
          </Button>
        </Box>
      </Box>
    </Box>
  );
}

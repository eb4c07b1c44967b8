'use client';

import PlaceIcon from '@mui/icons-material/LowPriority';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useMemo, useState } from 'react';
import { commonName, inChannelOrder } from '@/core/audio/channelNames';
import { DECLARABLE, type Layout } from '@/core/audio/layout';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { appendSources, placeSource, trackEnd } from '@/core/programme/edits/clips';
import type { Source, Track } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { ROLE_NAMES } from '../ui/words';
import { newId } from '../session/newId';
import { useProject, useSession } from '../session/SessionContext';

/** A button that asks for a track. */
function TrackMenu(props: {
  readonly label: string;
  readonly disabled?: boolean;
  readonly onTrack: (track: Track) => void;
}) {
  const { label, disabled = false, onTrack } = props;
  const { tracks } = useProject();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        variant="outlined"
        disabled={disabled || tracks.length === 0}
        startIcon={<PlaceIcon />}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {label}
      </Button>
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
              onTrack(track);
            }}
          >
            {track.name}
            <Box component="span" sx={{ ml: 2, color: 'text.secondary', fontSize: 12 }}>
              {ROLE_NAMES[track.role]}
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Places the chosen sources one after the other at the end of a track. */
export function PlaceMenu({ chosen }: { chosen: readonly Source[] }) {
  const session = useSession();
  return (
    <TrackMenu
      label="Place end to end on…"
      disabled={chosen.length === 0}
      onTrack={({ id, name }) => {
        const placements = chosen.map((source) => ({ clipId: newId(), sourceId: source.id }));
        session.do(`Place ${count(placements.length, 'clip')} on ${name}`, (project) =>
          appendSources(project, id, placements),
        );
      }}
    />
  );
}

/** Places the part of a source that was measured at the end of a track. */
export function PlacePart({ source, part }: { source: Source; part: TimeRange }) {
  const session = useSession();
  return (
    <TrackMenu
      label="Place the part on…"
      onTrack={({ id: trackId, name }) =>
        session.do(`Place a part of ${source.name} on ${name}`, (project) =>
          placeSource(project, {
            ...{ clipId: newId(), sourceId: source.id, trackId, part },
            start: trackEnd(project, trackId),
          }),
        )
      }
    />
  );
}

/** Mono sources in the order in which they were chosen become one of several channels. */
export function CombineMenu({ chosen, onDone }: { chosen: readonly Source[]; onDone: () => void }) {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const ordered = useMemo(() => inChannelOrder(chosen), [chosen]);
  const layouts = DECLARABLE.filter((layout) => layout.labels.length === chosen.length);
  const rates = new Set(chosen.map((source) => source.sampleRate));
  const fits =
    chosen.length > 1 &&
    chosen.every((source) => source.layout.labels.length === 1) &&
    rates.size === 1 &&
    layouts.length > 0;
  const combine = (layout: Layout): void => {
    setAnchor(null);
    const name = `${commonName(ordered.map((source) => source.name))} ${layout.name}`;
    onDone();
    void session.imports.combine(ordered, layout.id, name);
  };
  return (
    <>
      <Button
        color="inherit"
        disabled={!fits}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Merge to multichannel as…
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {layouts.map((layout) => (
          <MenuItem key={layout.id} onClick={() => combine(layout)}>
            <Box>
              {layout.name}
              <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
                {ordered.map((source, i) => `${layout.labels[i]} ${source.name}`).join(', ')}
              </Box>
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

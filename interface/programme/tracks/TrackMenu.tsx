'use client';

import MoreIcon from '@mui/icons-material/MoreHoriz';
import Divider from '@mui/material/Divider';
import IconButton from '@mui/material/IconButton';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { linkTracks, unlinkTrack } from '@/core/programme/edits/levels';
import { removeTrack } from '@/core/programme/edits/project';
import type { Track } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { newId } from '../../session/newId';
import { useViewSettings } from '../viewSettings';
import { setLaneHeight } from './HeadEdges';
import { moveTrackBy } from '../../commands/trackCommands';
import { openRide } from '../ride/openRide';
import { useSession } from '../../session/SessionContext';

/** By so much a lane grows with one step. */
const TALLER = 1.3;

/** What can be done to a track as a whole. */
export function TrackMenu({ track, clips }: { track: Track; clips: number }) {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const factor = useViewSettings().laneHeights[track.id] ?? 1;
  const choose = (action: () => void) => () => {
    setAnchor(null);
    action();
  };
  const selectAll = (): void => {
    session.select(session.project.clips.filter((clip) => clip.trackId === track.id).map((clip) => clip.id));
  };
  // Only while it is open: a list of all tracks on every track would be a long one.
  const tracks = anchor ? session.project.tracks : [];
  const index = tracks.findIndex(({ id }) => id === track.id);
  const move = (by: 1 | -1): void => moveTrackBy(session, track, by);
  const others = tracks.filter(
    (other) => other.id !== track.id && (track.linkId === null || other.linkId !== track.linkId),
  );
  return (
    <>
      <IconButton
        size="small"
        aria-label={`Actions for track ${track.name}`}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ ml: 'auto', p: 0.25 }}
      >
        <MoreIcon fontSize="small" />
      </IconButton>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        <MenuItem disabled={clips === 0} onClick={choose(selectAll)}>
          Select its {count(clips, 'clip')}
        </MenuItem>
        <MenuItem
          disabled={clips === 0}
          onClick={choose(() => openRide(session, { kind: 'track', id: track.id }))}
        >
          Ride its gain…
        </MenuItem>
        <MenuItem disabled={index <= 0} onClick={choose(() => move(-1))}>
          Move up
        </MenuItem>
        <MenuItem disabled={index === tracks.length - 1} onClick={choose(() => move(1))}>
          Move down
        </MenuItem>
        <MenuItem onClick={choose(() => setLaneHeight(track.id, factor * TALLER))}>Taller lane</MenuItem>
        <MenuItem onClick={choose(() => setLaneHeight(track.id, factor / TALLER))}>Lower lane</MenuItem>
        <MenuItem disabled={factor === 1} onClick={choose(() => setLaneHeight(track.id, null))}>
          Usual height
        </MenuItem>
        <Divider />
        <MenuItem
          onClick={choose(() =>
            session.do(
              `Remove track ${track.name}${clips > 0 ? ` and ${count(clips, 'clip')}` : ''}`,
              (project) => removeTrack(project, track.id),
            ),
          )}
        >
          Remove track{clips > 0 ? ` and its ${count(clips, 'clip')}` : ''}
        </MenuItem>
        <Divider />
        {track.linkId !== null && (
          <MenuItem
            onClick={choose(() =>
              session.do(`Unlink track ${track.name}`, (project) => unlinkTrack(project, track.id)),
            )}
          >
            Unlink
          </MenuItem>
        )}
        {others.length > 0 && (
          <ListSubheader sx={{ lineHeight: 2.2 }}>Link its gain with that of</ListSubheader>
        )}
        {others.map((other) => (
          <MenuItem
            key={other.id}
            onClick={choose(() =>
              session.do(`Link tracks ${track.name} and ${other.name}`, (project) =>
                linkTracks(project, new Set([track.id, other.id]), track.linkId ?? other.linkId ?? newId()),
              ),
            )}
          >
            {other.name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

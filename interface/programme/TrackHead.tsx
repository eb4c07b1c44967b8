'use client';

import MoreIcon from '@mui/icons-material/MoreHoriz';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import InputBase from '@mui/material/InputBase';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import { memo, useState } from 'react';
import { setTrackGain } from '@/core/programme/edits/levels';
import { TRACK_GAIN } from '@/core/programme/gainField';
import { changeTrack, removeTrack } from '@/core/programme/edits/project';
import { ROLES, type Track } from '@/core/programme/model';
import type { Target } from '@/core/targets/target';
import { count, ROLE_NAMES } from '../parts/words';
import { useSession, useSessionState } from '../session/SessionContext';
import { figure } from '@/core/text/figures';
import { gainText } from './clipLevel';
import { useGainEntry } from './useGainEntry';
import { bodyHeight, HEAD_WIDTH, NAME_STRIP, yOf } from './laneScale';

function TrackMenu({ track, clips }: { track: Track; clips: number }) {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const choose = (action: () => void) => () => {
    setAnchor(null);
    action();
  };
  const selectAll = (): void => {
    session.select(session.project.clips.filter((clip) => clip.trackId === track.id).map((clip) => clip.id));
  };
  return (
    <>
      <IconButton
        size="small"
        aria-label={`Actions for track ${track.name}`}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ ml: 'auto' }}
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
          onClick={choose(() =>
            session.do(
              `Remove track ${track.name}${clips > 0 ? ` and ${count(clips, 'clip')}` : ''}`,
              (project) => removeTrack(project, track.id),
            ),
          )}
        >
          Remove track{clips > 0 ? ` and its ${count(clips, 'clip')}` : ''}
        </MenuItem>
      </Menu>
    </>
  );
}

/** The track's gain by number; Up and Down change it by half a dB. */
function TrackGain({ track }: { track: Track }) {
  const session = useSession();
  const set = (db: number, merge: string | null = null): void =>
    session.do(
      `Gain of track ${track.name} to ${gainText(db)}`,
      (project) => setTrackGain(project, track.id, db),
      merge,
    );
  const { error, handlers } = useGainEntry(track.gainDb, TRACK_GAIN, (entry) =>
    set(entry.kind === 'set' ? entry.db : track.gainDb + entry.db),
  );
  return (
    <Tooltip title={error ?? ''} open={error !== null} placement="right">
      <InputBase
        {...handlers}
        error={error !== null}
        endAdornment={<Box sx={{ color: 'text.secondary', fontSize: 11, pl: 0.25 }}>dB</Box>}
        inputProps={{ 'aria-label': `Gain of track ${track.name} in dB`, 'aria-invalid': error !== null }}
        onKeyDown={(event) => {
          const step = { ArrowUp: 0.5, ArrowDown: -0.5 }[event.key];
          if (step === undefined) return handlers.onKeyDown(event);
          event.preventDefault();
          set(track.gainDb + step, `track gain ${track.id}`);
        }}
        sx={{
          width: 70,
          px: 0.5,
          fontSize: 12,
          border: 1,
          borderColor: error ? 'error.main' : 'divider',
          borderRadius: 0.5,
          '& input': { p: 0, textAlign: 'right' },
        }}
      />
    </Tooltip>
  );
}

/** What stands to the left of a lane: name, role, mute and solo. */
export const TrackHead = memo(function TrackHead({
  track,
  clips,
  target,
  laneHeight,
}: {
  track: Track;
  clips: number;
  target: Target;
  laneHeight: number;
}) {
  const session = useSession();
  const soloed = useSessionState((state) => state.soloed.has(track.id));
  const [draft, setDraft] = useState<string | null>(null);
  const finish = (): void => {
    const name = draft?.trim().slice(0, 60);
    setDraft(null);
    if (name && name !== track.name)
      session.do(`Rename track to ${name}`, (project) => changeTrack(project, track.id, { name }));
  };
  const toggle = { px: 0.75, py: 0, fontSize: 11, lineHeight: '20px', textTransform: 'none' } as const;
  return (
    <Box
      sx={{
        position: 'sticky',
        left: 0,
        zIndex: 3,
        width: HEAD_WIDTH,
        height: laneHeight,
        flex: 'none',
        bgcolor: 'background.paper',
        borderRight: 1,
        borderColor: 'divider',
        p: 0.75,
        display: 'flex',
        flexDirection: 'column',
        gap: 0.25,
      }}
    >
      <InputBase
        value={draft ?? track.name}
        inputProps={{ 'aria-label': `Name of track ${track.name}`, maxLength: 60 }}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => {
          if (event.key === 'Enter') (event.target as HTMLElement).blur();
          if (event.key === 'Escape') setDraft(null);
        }}
        sx={{ fontWeight: 600, fontSize: 13, px: 0.5, '& input': { p: 0 } }}
      />
      <Select
        variant="standard"
        disableUnderline
        value={track.role}
        onChange={(event) =>
          session.do(`${track.name} is ${ROLE_NAMES[event.target.value].toLowerCase()}`, (project) =>
            changeTrack(project, track.id, { role: event.target.value }),
          )
        }
        slotProps={{ input: { 'aria-label': `Role of track ${track.name}` } }}
        sx={{ width: 112, fontSize: 12, px: 0.5, color: 'text.secondary', '& .MuiSelect-select': { py: 0 } }}
      >
        {ROLES.map((role) => (
          <MenuItem key={role} value={role} dense>
            {ROLE_NAMES[role]}
          </MenuItem>
        ))}
      </Select>
      <Box
        aria-hidden
        sx={{ position: 'absolute', right: 3, fontSize: 10, lineHeight: 1, color: 'text.secondary' }}
        style={{ top: NAME_STRIP + yOf(0, bodyHeight(laneHeight)) - 5 }}
      >
        {figure(target.integratedLufs, 0)} ┄
      </Box>
      <Box sx={{ display: 'flex', gap: 0.5, alignItems: 'center', mt: 'auto' }}>
        <ToggleButton
          value="mute"
          size="small"
          selected={track.muted}
          aria-label={`Mute ${track.name}`}
          sx={toggle}
          onChange={() =>
            session.do(`${track.muted ? 'Unmute' : 'Mute'} ${track.name}`, (project) =>
              changeTrack(project, track.id, { muted: !track.muted }),
            )
          }
        >
          Mute
        </ToggleButton>
        <ToggleButton
          value="solo"
          size="small"
          selected={soloed}
          aria-label={`Solo ${track.name}`}
          sx={toggle}
          onChange={() => session.toggleSolo(track.id)}
        >
          Solo
        </ToggleButton>
        <TrackGain track={track} />
        <TrackMenu track={track} clips={clips} />
      </Box>
    </Box>
  );
});

'use client';

import LinkIcon from '@mui/icons-material/Link';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import ToggleButton from '@mui/material/ToggleButton';
import { memo, type ReactNode } from 'react';
import { changeTrack } from '@/core/programme/edits/project';
import { ROLES, type Track } from '@/core/programme/model';
import type { Target } from '@/core/check/target';
import { figure } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { NameField } from '../../editing/NameField';
import { ROLE_NAMES } from '../../ui/words';
import { useSession, useSessionState } from '../../session/SessionContext';
import { bodyHeight, FULL_HEAD, NAME_STRIP, yOf } from '../lanes/laneScale';
import { HeightEdge, WidthEdge } from './HeadEdges';
import { TrackGain } from './TrackGain';
import { PeakHold } from '../meters/PeakHold';
import { TrackMenu } from './TrackMenu';
import { TrackMeter } from '../meters/TrackMeter';

/** What stands to the left of a lane: name, role, mute and solo. */
export const TrackHead = memo(function TrackHead({
  track,
  clips,
  target,
  laneHeight,
  width,
  grip,
}: {
  track: Track;
  clips: number;
  target: Target;
  laneHeight: number;
  width: number;
  /** By which it is moved among the others. */
  grip: ReactNode;
}) {
  const session = useSession();
  const soloed = useSessionState((state) => state.soloed.has(track.id));
  const someSoloed = useSessionState((state) => state.soloed.size > 0);
  const { id: projectId } = session.project;
  const toggle = { px: 0.75, py: 0, fontSize: 11, lineHeight: '20px', textTransform: 'none' } as const;
  return (
    <Box
      sx={{
        position: 'sticky',
        left: 0,
        zIndex: 3,
        width,
        height: laneHeight,
        flex: 'none',
        bgcolor: 'background.paper',
        borderRight: 1,
        borderColor: 'divider',
        p: 0.75,
        pr: 1.25,
        display: 'flex',
        flexDirection: 'column',
        gap: 0.25,
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        {grip}
        <NameField
          label={`Name of track ${track.name}`}
          name={track.name}
          most={60}
          onName={(name) =>
            session.do(`Rename track to ${name}`, (project) => changeTrack(project, track.id, { name }))
          }
          sx={{
            flex: 1,
            fontWeight: 600,
            fontSize: 13,
            px: 0.5,
            '& input': { p: 0, textOverflow: 'ellipsis' },
          }}
        />
        {track.linkId !== null && (
          <LinkIcon titleAccess="Its gain is linked" sx={{ fontSize: 15, color: 'text.secondary' }} />
        )}
        <PeakHold of={`${projectId} ${track.id}`} name={track.name} ceilingDbtp={target.maxTruePeakDbtp} />
      </Box>
      {laneHeight >= FULL_HEAD && (
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
          sx={{
            width: 92,
            fontSize: 12,
            px: 0.5,
            color: 'text.secondary',
            '& .MuiSelect-select': { py: 0 },
          }}
        >
          {ROLES.map((role) => (
            <MenuItem key={role} value={role} dense>
              {ROLE_NAMES[role]}
            </MenuItem>
          ))}
        </Select>
      )}
      {track.curve.length > 0 && (
        <Box
          data-track-curve
          title={`Its gain moves over time: ${count(track.curve.length, 'point')}, in the side sheet`}
          sx={{ position: 'absolute', left: 108, top: 29, fontSize: 11, color: 'text.secondary' }}
        >
          curve
        </Box>
      )}
      <Box
        aria-hidden
        sx={{ position: 'absolute', right: 9, fontSize: 10, lineHeight: 1, color: 'text.secondary' }}
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
          onChange={() => session.listening.toggleSolo(track.id)}
        >
          Solo
        </ToggleButton>
        <TrackGain track={track} />
        <TrackMenu track={track} clips={clips} />
      </Box>
      <TrackMeter trackId={track.id} silent={track.muted || (someSoloed && !soloed)} />
      <WidthEdge />
      <HeightEdge trackId={track.id} laneHeight={laneHeight} />
    </Box>
  );
});

'use client';

import ClearIcon from '@mui/icons-material/Close';
import RepeatIcon from '@mui/icons-material/Repeat';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import { placeText } from '@/core/programme/timeText';
import { clock } from '@/core/text/figures';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';

/** The chosen range, whether it repeats, and the way to forget it; nothing while there is none. */
export function RangeBox() {
  const session = useSession();
  const project = useProject();
  const range = useSessionState((state) => state.range);
  const looping = useSessionState((state) => state.looping);
  if (!range) return null;
  return (
    <Box
      role="group"
      aria-label={`Range from ${placeText(project, range.from)} to ${placeText(project, range.to)}`}
      sx={{ display: 'flex', alignItems: 'center', gap: 0.25, fontSize: 12, whiteSpace: 'nowrap' }}
    >
      <Tooltip title="Loop the range (R)">
        <ToggleButton
          value="loop"
          size="small"
          selected={looping}
          aria-label="Loop the range"
          onChange={() => session.listening.toggleLoop()}
          sx={{ p: 0.5, border: 0 }}
        >
          <RepeatIcon fontSize="small" />
        </ToggleButton>
      </Tooltip>
      <Tooltip title={`${placeText(project, range.from)} to ${placeText(project, range.to)}`}>
        <span data-range-length>{clock((range.to - range.from) / project.sampleRate)} range</span>
      </Tooltip>
      <Tooltip title="Clear range (Alt R)">
        <IconButton size="small" aria-label="Clear range" onClick={() => session.listening.clearRange()}>
          <ClearIcon sx={{ fontSize: 15 }} />
        </IconButton>
      </Tooltip>
    </Box>
  );
}

'use client';

import LookIcon from '@mui/icons-material/TuneOutlined';
import Box from '@mui/material/Box';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { changeView, METER_DEPTHS, useViewSettings, type ViewSettings } from '../viewSettings';

const SWITCHES: readonly (readonly [key: 'big' | 'mirrored' | 'loudness', label: string])[] = [
  ['big', 'Lanes only, at full height (S)'],
  ['mirrored', 'Mirrored waveforms (W)'],
  ['loudness', 'Loudness over the waveform (V)'],
];

/** How lanes and meters are drawn. */
export function ViewMenu() {
  const look = useViewSettings();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title="How lanes and meters are drawn">
        <IconButton
          size="small"
          aria-label="How lanes and meters are drawn"
          aria-haspopup="dialog"
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          <LookIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'How lanes and meters are drawn' } }}
      >
        <Box sx={{ p: 2, width: 300, display: 'flex', flexDirection: 'column', gap: 0.5, fontSize: 13 }}>
          {SWITCHES.map(([key, label]) => (
            <FormControlLabel
              key={key}
              control={
                <Switch
                  size="small"
                  checked={look[key]}
                  onChange={(_, checked) => changeView({ [key]: checked } satisfies Partial<ViewSettings>)}
                />
              }
              label={<Box sx={{ fontSize: 13 }}>{label}</Box>}
            />
          ))}
          <FormControlLabel
            control={
              <Switch
                size="small"
                checked={look.picture.shown}
                onChange={(_, shown) => changeView({ picture: { ...look.picture, shown } })}
              />
            }
            label={<Box sx={{ fontSize: 13 }}>Picture at the playhead</Box>}
          />
          <Box sx={{ mt: 1 }} id="lane-height">
            Height of the lanes (H, Shift H)
          </Box>
          <Slider
            size="small"
            aria-labelledby="lane-height"
            min={0.4}
            max={4}
            step={0.1}
            value={look.height}
            valueLabelDisplay="auto"
            valueLabelFormat={(value) => `× ${value}`}
            onChange={(_, height) => changeView({ height, big: false })}
          />
          <Box id="meter-depth">Meters reach down to</Box>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={look.meterDepth}
            aria-labelledby="meter-depth"
            onChange={(_, meterDepth: number | null) => {
              if (meterDepth !== null) changeView({ meterDepth });
            }}
          >
            {METER_DEPTHS.map((depth) => (
              <ToggleButton key={depth} value={depth} sx={{ textTransform: 'none', py: 0.25 }}>
                −{depth} LU
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Box>
      </Popover>
    </>
  );
}

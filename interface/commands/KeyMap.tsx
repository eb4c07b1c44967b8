'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Drawer from '@mui/material/Drawer';
import IconButton from '@mui/material/IconButton';
import Typography from '@mui/material/Typography';
import { Fragment } from 'react';
import { COMMAND_GROUPS, keyText } from './command';
import { COMMANDS } from './commands';

const withKeys = COMMANDS.filter(({ keys }) => keys.length > 0);

function Key({ children }: { children: string }) {
  return (
    <Box
      component="kbd"
      sx={{
        fontFamily: 'inherit',
        fontSize: 11.5,
        px: 0.75,
        py: 0.125,
        mr: 0.5,
        border: 1,
        borderColor: 'divider',
        borderRadius: 0.75,
        bgcolor: 'background.default',
        whiteSpace: 'nowrap',
      }}
    >
      {children}
    </Box>
  );
}

/** All keys at a glance. */
export function KeyMap({ onClose }: { onClose: () => void }) {
  return (
    <Drawer
      anchor="right"
      open
      onClose={onClose}
      slotProps={{
        paper: { 'aria-label': 'Keys', sx: { width: 1040, maxWidth: '100vw', px: 2.5, py: 1.5 } },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 1 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Keys
        </Typography>
        <Box sx={{ color: 'text.secondary', fontSize: 12, mr: 1 }}>
          <Key>Ctrl K</Key> finds a command by its name, <Key>?</Key> shows this
        </Box>
        <IconButton size="small" aria-label="Close" onClick={onClose}>
          <CloseIcon fontSize="small" />
        </IconButton>
      </Box>
      <Box sx={{ columnCount: 3, columnGap: 3.5, fontSize: 12.5 }}>
        {COMMAND_GROUPS.filter((group) => withKeys.some((command) => command.group === group)).map(
          (group) => (
            <Box key={group} sx={{ breakInside: 'avoid', mb: 1.5 }}>
              <Typography variant="h3">{group}</Typography>
              <Box
                component="dl"
                sx={{ m: 0, display: 'grid', gridTemplateColumns: '1fr auto', rowGap: 0.375, columnGap: 1 }}
              >
                {withKeys
                  .filter((command) => command.group === group)
                  .map((command) => (
                    <Fragment key={command.id}>
                      <Box component="dt">{command.name}</Box>
                      <Box component="dd" sx={{ m: 0, textAlign: 'right' }}>
                        <Key>{keyText(command.keys[0]!)}</Key>
                      </Box>
                    </Fragment>
                  ))}
              </Box>
            </Box>
          ),
        )}
      </Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 1 }}>
        On the lanes: drag a waterline to set gain, Shift for fine steps; drag a clip to move it, its edge to
        trim it; Alt and a click select one clip out of its group; drag over the ruler for a range.
      </Box>
    </Drawer>
  );
}

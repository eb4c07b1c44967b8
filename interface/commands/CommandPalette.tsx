'use client';

import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import { canRun, COMMAND_GROUPS, keyText, type CommandPlace } from './command';
import { COMMANDS } from './commands';

/** Every command by name: type a few letters, Enter does it. Those that cannot be done now are shown as such. */
export function CommandPalette({ place, onClose }: { place: CommandPlace; onClose: () => void }) {
  const options = useMemo(
    () => [...COMMANDS].sort((a, b) => COMMAND_GROUPS.indexOf(a.group) - COMMAND_GROUPS.indexOf(b.group)),
    [],
  );
  return (
    <Dialog
      open
      onClose={onClose}
      slotProps={{
        paper: {
          'aria-label': 'Commands',
          sx: { position: 'absolute', top: 60, width: 520, m: 0, overflow: 'visible' },
        },
      }}
    >
      <Autocomplete
        open
        autoHighlight
        options={options}
        groupBy={({ group }) => group}
        getOptionKey={({ id }) => id}
        getOptionLabel={({ name }) => name}
        getOptionDisabled={(command) => !canRun(command, place)}
        onClose={(_, reason) => {
          if (reason === 'escape') onClose();
        }}
        onChange={(_, command) => {
          if (!command) return;
          onClose();
          // The focus returns to where it was first: what the command moves it to must stay.
          requestAnimationFrame(() => command.run(place));
        }}
        renderGroup={({ key, group, children }) => (
          <Box component="li" key={key} role="presentation">
            <Box aria-hidden sx={{ px: 2, pt: 1, pb: 0.25, fontSize: 12, color: 'text.secondary' }}>
              {group}
            </Box>
            <Box component="ul" role="group" aria-label={group} sx={{ p: 0 }}>
              {children}
            </Box>
          </Box>
        )}
        renderOption={({ key, ...props }, command) => (
          <Box component="li" key={key} {...props} sx={{ display: 'flex', gap: 2, fontSize: 13 }}>
            <Box component="span" sx={{ flex: 1 }}>
              {command.name}
            </Box>
            {command.keys[0] !== undefined && (
              <Box component="kbd" sx={{ fontFamily: 'inherit', color: 'text.secondary' }}>
                {keyText(command.keys[0])}
              </Box>
            )}
          </Box>
        )}
        renderInput={(params) => (
          <TextField {...params} autoFocus placeholder="What to do" aria-label="What to do" />
        )}
        slotProps={{ listbox: { sx: { maxHeight: 420 } } }}
      />
    </Dialog>
  );
}

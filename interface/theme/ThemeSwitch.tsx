'use client';

import DarkIcon from '@mui/icons-material/DarkModeOutlined';
import LightIcon from '@mui/icons-material/LightModeOutlined';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useColorScheme } from '@mui/material/styles';

/** The theme in force, the system's choice resolved. */
export function useThemeMode(): 'light' | 'dark' {
  const { mode, systemMode } = useColorScheme();
  return (mode === 'system' ? systemMode : mode) === 'dark' ? 'dark' : 'light';
}

export function ThemeSwitch() {
  const { setMode } = useColorScheme();
  const mode = useThemeMode();
  const next = mode === 'dark' ? 'light' : 'dark';
  return (
    <Tooltip title={`Change to the ${next} theme`}>
      <IconButton size="small" aria-label={`Change to the ${next} theme`} onClick={() => setMode(next)}>
        {mode === 'dark' ? <LightIcon fontSize="small" /> : <DarkIcon fontSize="small" />}
      </IconButton>
    </Tooltip>
  );
}

'use client';

import Paper from '@mui/material/Paper';
import { useStore } from 'zustand';
import { packing } from '../session/packs';
import { ProgressLine } from './ProgressLine';

/** A project on its way into a file, or out of one, over the foot of the page. */
export function PackingLine() {
  const now = useStore(packing, (state) => state.now);
  if (!now) return null;
  return (
    <Paper
      elevation={4}
      data-packing
      sx={{
        position: 'fixed',
        bottom: 16,
        left: '50%',
        transform: 'translateX(-50%)',
        px: 2,
        py: 1,
        zIndex: 'snackbar',
      }}
    >
      <ProgressLine label={now.label} done={now.done} onCancel={now.cancel} />
    </Paper>
  );
}

'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import type { ReactNode } from 'react';

interface Props {
  readonly label: string;
  /** What is asked for. */
  readonly top: ReactNode;
  /** What applies it, beside the button that closes the sheet. */
  readonly actions: ReactNode;
  readonly onClose: () => void;
  readonly children?: ReactNode;
}

/** A sheet under the programme in which something is proposed; Escape closes it. */
export function BottomSheet({ label, top, actions, onClose, children }: Props) {
  return (
    <Box
      component="section"
      aria-label={label}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.preventDefault();
        onClose();
      }}
      sx={{
        flex: 1,
        minHeight: 0,
        display: 'flex',
        flexDirection: 'column',
        overflow: 'hidden',
        bgcolor: 'background.paper',
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'start', gap: 1, px: 1.5, pt: 1.25, pb: 0.5 }}>
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', alignItems: 'start', gap: 1, flexWrap: 'wrap' }}>
          {top}
        </Box>
        <Box sx={{ flex: 'none', display: 'flex', alignItems: 'start', gap: 1 }}>
          {actions}
          <IconButton size="small" aria-label="Close" onClick={onClose}>
            <CloseIcon fontSize="small" />
          </IconButton>
        </Box>
      </Box>
      {children}
    </Box>
  );
}

'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import { useEffect, useRef, type ReactNode } from 'react';

/** Where the keyboard is on the stage, when it was nowhere before. */
const STAGE = '[data-lanes][tabindex="0"], [data-lanes] [tabindex="0"]';

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
  const sheet = useRef<HTMLElement>(null);
  // The keyboard goes into the sheet, and back to where it was.
  useEffect(() => {
    const own = sheet.current!;
    const before = document.activeElement as HTMLElement | null;
    if (!own.contains(before)) own.querySelector<HTMLElement>('input, button')?.focus();
    return () => {
      if (document.activeElement !== document.body) return;
      const back = before !== document.body && before?.isConnected ? before : document.querySelector(STAGE);
      (back as HTMLElement | null)?.focus({ preventScroll: true });
    };
  }, []);
  return (
    <Box
      ref={sheet}
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

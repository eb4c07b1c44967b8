'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import type { ReactNode } from 'react';

interface Props {
  /** Of the button that opens it. */
  readonly label: string;
  readonly title: string;
  readonly width: number;
  /** Nothing is chosen that it could be done to. */
  readonly disabled: boolean;
  /** Where it stands open; `null` while it is closed. */
  readonly anchor: HTMLElement | null;
  readonly onAnchor: (anchor: HTMLElement | null) => void;
  readonly children: ReactNode;
}

/** A button that opens what can be done to the chosen sources. */
export function ChosenPopover({ label, title, width, disabled, anchor, onAnchor, children }: Props) {
  return (
    <>
      <Button
        color="inherit"
        disabled={disabled}
        aria-haspopup="dialog"
        onClick={(event) => onAnchor(event.currentTarget)}
      >
        {label}
      </Button>
      <Popover
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => onAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': title } }}
      >
        <Box sx={{ p: 2, width, display: 'flex', flexDirection: 'column', gap: 1 }}>{children}</Box>
      </Popover>
    </>
  );
}

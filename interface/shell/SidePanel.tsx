'use client';

import Drawer from '@mui/material/Drawer';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { openPanel, useOpenPanel, type Panel } from './panels';

/** A panel that is opened from the header or by command: its button, and what it holds while it is open. */
export function SidePanel(props: {
  readonly panel: Panel;
  readonly name: string;
  /** Of the button. */
  readonly hint?: string;
  readonly icon: ReactNode;
  /** CSS pixels. */
  readonly width: number;
  readonly children: ReactNode;
}) {
  const { panel, name, hint = name, icon, width, children } = props;
  return (
    <>
      <Tooltip title={hint}>
        <IconButton size="small" aria-label={name} onClick={() => openPanel(panel)}>
          {icon}
        </IconButton>
      </Tooltip>
      <Drawer
        anchor="right"
        open={useOpenPanel() === panel}
        onClose={() => openPanel(null)}
        slotProps={{
          paper: {
            'aria-label': name,
            sx: { width, p: 2, display: 'flex', flexDirection: 'column', gap: 2 },
          },
        }}
      >
        <Typography variant="h2">{name}</Typography>
        {children}
      </Drawer>
    </>
  );
}

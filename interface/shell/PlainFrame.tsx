'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Link from 'next/link';
import type { ReactNode } from 'react';
import { ThemeSwitch } from '../theme/ThemeSwitch';

/** The frame of pages that belong to no project. */
export function PlainFrame({ here, children }: { here: 'projects' | 'audit'; children: ReactNode }) {
  const link = (href: 'projects' | 'audit', label: string) => (
    <Button
      component={Link}
      href={`/${href}`}
      color="inherit"
      aria-current={here === href ? 'page' : undefined}
      sx={{
        px: 1.5,
        borderRadius: 0,
        borderBottom: 2,
        borderColor: here === href ? 'primary.main' : 'transparent',
        fontWeight: here === href ? 650 : 450,
      }}
    >
      {label}
    </Button>
  );
  return (
    <Box sx={{ minHeight: '100dvh', display: 'flex', flexDirection: 'column' }}>
      <Box
        component="header"
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          px: 2,
          height: 44,
          borderBottom: 1,
          borderColor: 'divider',
          bgcolor: 'background.paper',
        }}
      >
        <Box sx={{ fontWeight: 700, fontSize: 15, mr: 1 }}>Dengung</Box>
        <Box component="nav" aria-label="Pages" sx={{ display: 'flex' }}>
          {link('projects', 'Projects')}
          {link('audit', 'Audit files')}
        </Box>
        <Box sx={{ flex: 1 }} />
        <ThemeSwitch />
      </Box>
      <Box component="main" sx={{ flex: 1, display: 'flex', flexDirection: 'column', minHeight: 0 }}>
        {children}
      </Box>
    </Box>
  );
}

'use client';

import CssBaseline from '@mui/material/CssBaseline';
import { ThemeProvider } from '@mui/material/styles';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import type { ReactNode } from 'react';
import { theme } from './theme';

/** Styles and both themes for everything below. */
export function ThemeRegistry({ nonce, children }: { nonce: string; children: ReactNode }) {
  return (
    <AppRouterCacheProvider options={{ nonce }}>
      <ThemeProvider theme={theme} defaultMode="system" noSsr={false}>
        <CssBaseline />
        {children}
      </ThemeProvider>
    </AppRouterCacheProvider>
  );
}

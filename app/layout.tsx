import '@fontsource-variable/inter/wght.css';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { OfflineCopy } from '@/interface/offline/OfflineCopy';
import { ThemeRegistry } from '@/interface/theme/ThemeRegistry';

export const metadata: Metadata = {
  title: 'Dengung',
  description: 'Loudness and true peak of clips and programmes, brought to the delivery target and proven.',
};

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? '';
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data" nonce={nonce} defaultMode="system" />
        <ThemeRegistry nonce={nonce}>
          {children}
          {process.env['DENGUNG_OFFLINE'] !== '0' && <OfflineCopy />}
        </ThemeRegistry>
      </body>
    </html>
  );
}

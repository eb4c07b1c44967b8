'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { openDemo } from './loadDemo';

/** Loads the demo programme, then goes to it. */
export function DemoOpener({ fresh = false }: { fresh?: boolean }) {
  const router = useRouter();
  const [progress, setProgress] = useState<readonly [done: number, of: number]>([0, 1]);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    openDemo(fresh, (done, of) => setProgress([done, of])).then(
      (id) => router.replace(`/project/${id}/programme`),
      (error: unknown) => setTrouble(error instanceof Error ? error.message : String(error)),
    );
  }, [fresh, router]);
  const [done, of] = progress;
  return (
    <Box component="main" sx={{ height: '100dvh', display: 'grid', placeItems: 'center' }}>
      <Box sx={{ width: 380, textAlign: 'center' }}>
        {trouble ? (
          <>
            <Typography variant="h1">The demo programme could not be loaded</Typography>
            <Typography sx={{ my: 1.5 }}>{trouble}</Typography>
            <Button component={Link} href="/projects" variant="contained">
              To all projects
            </Button>
          </>
        ) : (
          <>
            <Typography variant="h1" sx={{ mb: 1.5 }}>
              Loading the demo programme
            </Typography>
            <LinearProgress variant="determinate" value={(100 * done) / of} aria-label="Demo programme" />
            <Typography variant="body2" sx={{ mt: 1, color: 'text.secondary' }}>
              {done === 0 ? 'Starting …' : `${done} of ${of} sources measured`}
            </Typography>
          </>
        )}
      </Box>
    </Box>
  );
}

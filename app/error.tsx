'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';

/** The last net: what was kept is safe, and one click tries again. */
export default function ErrorPage({ error, reset }: { error: Error; reset: () => void }) {
  return (
    <main style={{ display: 'grid', placeItems: 'center', height: '100dvh', textAlign: 'center' }}>
      <div>
        <Typography variant="h1">This page stopped with an error</Typography>
        <Typography sx={{ my: 1.5 }}>Your project is saved as of its last step. ({error.message})</Typography>
        <Box sx={{ display: 'flex', gap: 1, justifyContent: 'center' }}>
          <Button variant="contained" onClick={reset}>
            Try again
          </Button>
          <Button variant="outlined" href="/projects">
            To all projects
          </Button>
        </Box>
      </div>
    </main>
  );
}

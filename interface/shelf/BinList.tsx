'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { ShelfEntry } from '@/storage/projects';

/** Deleted projects: still there until they are deleted for good. */
export function BinList({
  entries,
  onRestore,
  onDelete,
}: {
  entries: readonly ShelfEntry[];
  onRestore: (entry: ShelfEntry) => void;
  onDelete: (entry: ShelfEntry) => void;
}) {
  const [asked, setAsked] = useState<string | null>(null);
  return (
    <Box component="section" aria-label="Bin" sx={{ mt: 4 }}>
      <Typography variant="h3" component="h2" sx={{ color: 'text.secondary', mb: 0.5 }}>
        Bin
      </Typography>
      {entries.map((entry) => (
        <Box
          key={entry.id}
          sx={{
            display: 'flex',
            alignItems: 'center',
            gap: 1,
            py: 0.5,
            borderBottom: 1,
            borderColor: 'divider',
          }}
        >
          <Box sx={{ flex: 1 }}>{entry.name}</Box>
          {asked === entry.id ? (
            <>
              <Box>Its sound and history are deleted permanently.</Box>
              <Button color="error" variant="outlined" onClick={() => onDelete(entry)}>
                Delete permanently
              </Button>
              <Button color="inherit" onClick={() => setAsked(null)}>
                Keep
              </Button>
            </>
          ) : (
            <>
              <Button color="inherit" onClick={() => onRestore(entry)}>
                Restore
              </Button>
              <Button color="inherit" onClick={() => setAsked(entry.id)}>
                Delete permanently…
              </Button>
            </>
          )}
        </Box>
      ))}
    </Box>
  );
}

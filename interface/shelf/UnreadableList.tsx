'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { storageError } from '@/storage/failure';
import { projectAsKept, type UnreadableEntry } from '@/storage/projects';
import { saveAsKept } from '../session/projectFile';

/** Projects that cannot be read: nothing of them is touched until somebody says so. */
export function UnreadableList({
  entries,
  onDelete,
}: {
  entries: readonly UnreadableEntry[];
  onDelete: (entry: UnreadableEntry) => void;
}) {
  const [asked, setAsked] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const save = async (id: string): Promise<void> => {
    try {
      saveAsKept(await projectAsKept(id), id);
    } catch (error) {
      setTrouble(storageError(error).message);
    }
  };
  return (
    <Box component="section" aria-label="Cannot be read" sx={{ mt: 4 }}>
      <Typography variant="h3" component="h2" sx={{ color: 'text.secondary', mb: 0.5 }}>
        Cannot be read
      </Typography>
      {trouble && <Box sx={{ color: 'error.main' }}>{trouble}</Box>}
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
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Box sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{entry.name}</Box>
            <Box sx={{ color: 'text.secondary', fontSize: 12.5 }}>{entry.why}</Box>
          </Box>
          <Button color="inherit" onClick={() => void save(entry.id)}>
            Save as a file
          </Button>
          {asked === entry.id ? (
            <Button color="error" variant="outlined" onClick={() => onDelete(entry)}>
              Delete permanently
            </Button>
          ) : (
            <Button color="inherit" onClick={() => setAsked(entry.id)}>
              Delete permanently…
            </Button>
          )}
        </Box>
      ))}
    </Box>
  );
}

'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect } from 'react';
import { useStore } from 'zustand';
import { count } from '@/core/text/words';
import type { Note } from '../session/notes';
import { useSession } from '../session/SessionContext';

/** What was told goes after so long, ms; what went wrong stays. */
const TOLD_MS = 10_000;
/** As many are shown at a time. */
const MOST_SHOWN = 4;

function OneNote({ note }: { note: Note }) {
  const { notes } = useSession();
  useEffect(() => {
    if (note.kind !== 'told') return;
    const timer = setTimeout(() => notes.clear(note.about), TOLD_MS);
    return () => clearTimeout(timer);
  }, [note, notes]);
  const failed = note.kind === 'failure';
  return (
    <Alert
      severity={failed ? 'error' : 'info'}
      variant="outlined"
      role={failed ? 'alert' : 'status'}
      data-note={note.about}
      onClose={() => notes.clear(note.about)}
      sx={{ py: 0, bgcolor: 'background.paper', alignItems: 'center', pointerEvents: 'auto' }}
    >
      {failed ? <strong>{note.message}</strong> : note.message} {note.hint}
    </Alert>
  );
}

/** What was told and what went wrong, over the foot of the stage; the newest last. */
export function NoteList() {
  const { notes } = useSession();
  const all = useStore(notes.store);
  const shown = all.slice(-MOST_SHOWN);
  const more = all.length - shown.length;
  if (all.length === 0) return null;
  return (
    <Box
      aria-label="Notes"
      role="region"
      sx={{
        position: 'fixed',
        left: 12,
        bottom: 12,
        zIndex: 'snackbar',
        maxWidth: 'min(640px, 60vw)',
        display: 'flex',
        flexDirection: 'column',
        gap: 0.75,
        fontSize: 13,
        pointerEvents: 'none',
      }}
    >
      {more > 0 && (
        <Box sx={{ pointerEvents: 'auto', bgcolor: 'background.paper', alignSelf: 'start', px: 1 }}>
          {count(more, 'earlier note')}
          <Button
            color="inherit"
            onClick={() => all.slice(0, more).forEach(({ about }) => notes.clear(about))}
          >
            Close them
          </Button>
        </Box>
      )}
      {shown.map((note) => (
        <OneNote key={note.about} note={note} />
      ))}
    </Box>
  );
}

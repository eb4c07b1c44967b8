'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import NextLink from 'next/link';
import { useEffect, useState } from 'react';
import { saveProjectFile } from '../session/projectFile';
import { allUnsaved } from '../session/unsaved';

/** How often it is looked whether something is still not saved, ms. */
const EVERY_MS = 1_000;

/** Projects that were left with steps that could not be saved. */
export function UnsavedNote() {
  const [unsaved, setUnsaved] = useState(allUnsaved);
  useEffect(() => {
    const timer = setInterval(() => setUnsaved(allUnsaved()), EVERY_MS);
    return () => clearInterval(timer);
  }, []);
  useEffect(() => {
    if (unsaved.length === 0) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [unsaved]);
  return unsaved.map((history) => (
    <Alert
      key={history.project.id}
      severity="warning"
      variant="outlined"
      sx={{ py: 0, mb: 1, alignItems: 'center' }}
      action={
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Button color="inherit" component={NextLink} href={`/project/${history.project.id}/programme`}>
            Open it
          </Button>
          <Button color="inherit" onClick={() => saveProjectFile(history)}>
            Save as a file
          </Button>
        </Box>
      }
    >
      The last steps in “{history.project.name}” could not be saved. They are held until this page is closed.
    </Alert>
  ));
}

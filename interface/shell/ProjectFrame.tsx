'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import Typography from '@mui/material/Typography';
import Link from 'next/link';
import { useEffect, useState, type ReactNode } from 'react';
import { ProjectFormatError } from '@/core/programme/migrations';
import { StorageError } from '@/storage/failure';
import { loadProject } from '@/storage/projects';
import { Session } from '../session/session';
import { SessionContext } from '../session/SessionContext';
import { ProjectHeader } from './ProjectHeader';
import { ProjectKeys } from './ProjectKeys';
import { VerdictBar } from './VerdictBar';

type Opened = { readonly session: Session } | { readonly trouble: string; readonly hint: string } | null;

function tell(error: unknown): { trouble: string; hint: string } {
  if (error instanceof ProjectFormatError)
    return { trouble: error.message, hint: 'Nothing was changed in it.' };
  if (error instanceof StorageError) return { trouble: error.message, hint: error.hint };
  return { trouble: 'The project could not be opened.', hint: 'Reload the page; if it stays, report it.' };
}

/** Opens a project from the browser's storage and keeps it open while its stages change. */
function useOpened(id: string): Opened {
  const [opened, setOpened] = useState<Opened>(null);
  useEffect(() => {
    let session: Session | null = null;
    let gone = false;
    loadProject(id).then(
      (history) => {
        if (gone) return;
        if (!history) {
          setOpened({
            trouble: 'There is no such project in this browser.',
            hint: 'It may have been deleted, or made in another browser.',
          });
          return;
        }
        session = new Session(history);
        setOpened({ session });
        void session.open();
      },
      (error: unknown) => {
        if (!gone) setOpened(tell(error));
      },
    );
    return () => {
      gone = true;
      session?.close();
      setOpened(null);
    };
  }, [id]);
  return opened;
}

/** Everything around a stage: header, verdict bar, keys. */
export function ProjectFrame({ id, children }: { id: string; children: ReactNode }) {
  const opened = useOpened(id);
  if (!opened || 'trouble' in opened) {
    return (
      <Box component="main" sx={{ height: '100dvh', display: 'grid', placeItems: 'center' }}>
        {opened ? (
          <Box sx={{ textAlign: 'center', maxWidth: 420 }}>
            <Typography variant="h1">{opened.trouble}</Typography>
            <Typography sx={{ my: 1.5 }}>{opened.hint}</Typography>
            <Button component={Link} href="/projects" variant="contained">
              To all projects
            </Button>
          </Box>
        ) : (
          <CircularProgress aria-label="Opening the project" />
        )}
      </Box>
    );
  }
  return (
    <SessionContext value={opened.session}>
      <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column', minWidth: 900 }}>
        <ProjectHeader />
        <VerdictBar />
        <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
          {children}
        </Box>
      </Box>
      <ProjectKeys />
    </SessionContext>
  );
}

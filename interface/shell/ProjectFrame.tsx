'use client';

import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import Typography from '@mui/material/Typography';
import Link from 'next/link';
import { useState, useEffect, type ReactNode } from 'react';
import { storageError } from '@/storage/failure';
import { projectAsKept } from '@/storage/projects';
import { saveAsKept, saveProjectFile } from '../session/projectFile';
import { SessionContext, useSessionState } from '../session/SessionContext';
import { watchBackups } from '../session/backups';
import { PackingLine } from '../ui/PackingLine';
import { NoteList } from './NoteList';
import { ProjectHeader } from './ProjectHeader';
import { ProjectKeys } from './ProjectKeys';
import { ShownStage } from './stages';
import { useOpened, type Opened } from './useOpened';
import { VerdictBar } from './VerdictBar';

/** A page of its own for what there is to say instead of the project. */
function Notice({ title, text, children }: { title: string; text: string; children?: ReactNode }) {
  return (
    <Box sx={{ textAlign: 'center', maxWidth: 440 }} role="alert">
      <Typography variant="h1">{title}</Typography>
      <Typography sx={{ my: 1.5 }}>{text}</Typography>
      <Box sx={{ display: 'flex', gap: 1, justifyContent: 'center' }}>
        {children}
        <Button component={Link} href="/projects" variant={children ? 'outlined' : 'contained'}>
          To all projects
        </Button>
      </Box>
    </Box>
  );
}

/** Saves what is kept of a project that cannot be opened. */
function SaveKept({ id }: { id: string }) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const save = async (): Promise<void> => {
    try {
      saveAsKept(await projectAsKept(id), id);
    } catch (error) {
      setTrouble(storageError(error).message);
    }
  };
  return (
    <>
      <Button variant="contained" onClick={() => void save()}>
        Save as a file
      </Button>
      {trouble && <Box sx={{ color: 'error.main' }}>{trouble}</Box>}
    </>
  );
}

function Instead({ id, opened }: { id: string; opened: Exclude<Opened, { state: 'open' }> }) {
  if (opened.state === 'opening') return <CircularProgress aria-label="Opening the project" />;
  if (opened.state === 'trouble')
    return (
      <Notice title={opened.trouble} text={opened.hint}>
        {opened.damaged && <SaveKept id={id} />}
      </Notice>
    );
  const { unsaved } = opened;
  if (unsaved)
    return (
      <Notice
        title="Another tab has taken this project over"
        text="The last steps could not be saved here, and the other tab does not have them. Save them as a file before you go on."
      >
        <Button variant="contained" onClick={() => saveProjectFile(unsaved)}>
          Save as a file
        </Button>
        <Button variant="outlined" onClick={opened.take}>
          Take it back
        </Button>
      </Notice>
    );
  return (
    <Notice
      title={
        opened.takenOver ? 'Another tab has taken this project over' : 'This project is open in another tab'
      }
      text={
        opened.takenOver
          ? 'All that was done here is saved. You can go on in the other tab, or take it back.'
          : 'So that nothing is overwritten, only one tab works on it. Taken over, it goes on here with all that was done there.'
      }
    >
      <Button variant="contained" onClick={opened.take}>
        {opened.takenOver ? 'Take it back' : 'Take over'}
      </Button>
    </Notice>
  );
}

/** What of the project could not be read when it was opened. */
function LostNote() {
  const lost = useSessionState((state) => state.lost);
  const [read, setRead] = useState(false);
  if (!lost || read) return null;
  return (
    <Alert severity="warning" variant="outlined" onClose={() => setRead(true)} sx={{ py: 0 }}>
      {lost}
    </Alert>
  );
}

/** Everything around a stage: header, verdict bar, keys. */
export function ProjectFrame({ id, children }: { id: string; children: ReactNode }) {
  const opened = useOpened(id);
  useEffect(() => watchBackups(), []);
  if (opened.state !== 'open') {
    return (
      <Box component="main" sx={{ height: '100dvh', display: 'grid', placeItems: 'center' }}>
        <Instead id={id} opened={opened} />
      </Box>
    );
  }
  return (
    <SessionContext value={opened.session}>
      <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column', minWidth: 840 }}>
        <ProjectHeader />
        <LostNote />
        <VerdictBar />
        <Box component="main" sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
          <ShownStage>{children}</ShownStage>
        </Box>
      </Box>
      <NoteList />
      <PackingLine />
      <ProjectKeys />
    </SessionContext>
  );
}

'use client';

import KeyboardIcon from '@mui/icons-material/KeyboardOutlined';
import RedoIcon from '@mui/icons-material/Redo';
import UndoIcon from '@mui/icons-material/Undo';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { useEffect, useState, type MouseEvent } from 'react';
import { renameProject } from '@/core/programme/edits/project';
import { NameField } from '../editing/NameField';
import { saveProjectFile } from '../session/projectFile';
import { useStoresLast } from '../session/useStoresLast';
import { MemoryNote } from './MemoryNote';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { HistoryPanel } from './HistoryPanel';
import { ProgrammeSettings } from './ProgrammeSettings';
import { ThemeSwitch } from '../theme/ThemeSwitch';
import { StageLink } from './StageLink';
import { STAGES } from './stageNames';

function ProjectName() {
  const session = useSession();
  const { name } = useProject();
  return (
    <NameField
      label="Project name"
      name={name}
      most={120}
      onName={(name) => session.do(`Rename to ${name}`, (project) => renameProject(project, name))}
      sx={{
        fontWeight: 600,
        fontSize: 15,
        width: 190,
        px: 0.75,
        borderRadius: 1,
        '&:hover, &.Mui-focused': { bgcolor: 'action.hover' },
      }}
    />
  );
}

function Stages() {
  const { id } = useProject();
  const path = usePathname();
  return (
    <Box component="nav" aria-label="Stages" sx={{ display: 'flex', gap: 0.5 }}>
      {STAGES.map(({ id: stage, name: label }) => {
        const here = path.endsWith(`/${stage}`);
        return (
          <StageLink
            key={stage}
            projectId={id}
            stage={stage}
            color="inherit"
            aria-current={here ? 'page' : undefined}
            sx={{
              px: 1.5,
              borderRadius: 0,
              borderBottom: 2,
              borderColor: here ? 'primary.main' : 'transparent',
              fontWeight: here ? 650 : 450,
            }}
          >
            {label}
          </StageLink>
        );
      })}
    </Box>
  );
}

function UndoRedo() {
  const session = useSession();
  const past = useSessionState((state) => state.history.past.at(-1)?.name ?? null);
  const future = useSessionState((state) => state.history.future[0]?.name ?? null);
  const button = (what: 'Undo' | 'Redo', name: string | null, onClick: () => void, keys: string) => (
    <Tooltip title={name ? `${what}: ${name} (${keys})` : `Nothing to ${what.toLowerCase()}`}>
      <span>
        <Button
          color="inherit"
          disabled={!name}
          onClick={onClick}
          aria-label={name ? `${what}: ${name}` : what}
          startIcon={what === 'Undo' ? <UndoIcon fontSize="small" /> : <RedoIcon fontSize="small" />}
          sx={{ maxWidth: 220, minWidth: 36, '& .MuiButton-startIcon': { mr: name ? 0.5 : 0 } }}
        >
          <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
            {name ?? ''}
          </Box>
        </Button>
      </span>
    </Tooltip>
  );
  return (
    <>
      {button('Undo', past, () => session.undo(), 'Ctrl+Z')}
      {button('Redo', future, () => session.redo(), 'Ctrl+Shift+Z')}
    </>
  );
}

function SaveNote() {
  const session = useSession();
  const save = useSessionState((state) => state.save);
  const steps = useSessionState((state) => state.history.past.length);
  const lasts = useStoresLast();
  if (lasts === false && typeof save === 'string') return <MemoryNote />;
  if (typeof save === 'string') {
    return (
      <Box
        role="status"
        data-save={save}
        data-steps={steps}
        sx={{ fontSize: 11, color: 'text.secondary', width: 64, textAlign: 'right' }}
      >
        {save === 'saved' ? 'Saved' : 'Saving…'}
      </Box>
    );
  }
  // Steps are stored then, and trying again brings no sound back: only relinking does.
  const soundLost = save.code === 'soundLost';
  const state = soundLost ? 'Saved without sound' : 'Not saved';
  return (
    <Box data-save="failed" sx={{ display: 'flex', gap: 0.5 }}>
      <Tooltip title={`${save.message} ${save.hint}${soundLost ? '' : ' It is tried again automatically.'}`}>
        <Button
          color="error"
          variant="outlined"
          onClick={() => session.saving.save()}
          aria-label={`${state}. ${save.message} ${save.hint} ${soundLost ? 'Check again' : 'Try again'}`}
        >
          {soundLost ? 'Saved without sound: check again' : 'Not saved: try again'}
        </Button>
      </Tooltip>
      <Tooltip title="The project with its steps as a file; its sound stays in this browser">
        <Button color="error" onClick={() => saveProjectFile(session.state.history)}>
          Save as a file
        </Button>
      </Tooltip>
    </Box>
  );
}

function HelpButtons() {
  const session = useSession();
  return (
    <Tooltip title="Commands (Ctrl K); all keys (?)">
      <IconButton size="small" aria-label="Commands" onClick={() => session.showCommands('palette')}>
        <KeyboardIcon fontSize="small" />
      </IconButton>
    </Tooltip>
  );
}

/** The way to all projects; asks first while something is not saved. */
function HomeButton() {
  const session = useSession();
  const router = useRouter();
  const [asking, setAsking] = useState(false);
  const save = useSessionState((state) => state.save);
  const failed = typeof save !== 'string';
  const inMemory = useStoresLast() === false;
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent): void => {
      const lost = inMemory && session.state.history.past.length > 0;
      if (lost || session.saving.isBehind || session.isBringingIn) event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [session, inMemory]);
  return (
    <>
      <Button
        component={Link}
        href="/projects"
        color="inherit"
        aria-label="Dengung, to all projects"
        onClick={(event: MouseEvent) => {
          if (!failed) return;
          event.preventDefault();
          setAsking(true);
        }}
        sx={{ fontWeight: 700, letterSpacing: 0.2, minWidth: 0 }}
      >
        Dengung
      </Button>
      <Dialog open={asking && failed} onClose={() => setAsking(false)} aria-labelledby="leave-title">
        <DialogTitle id="leave-title">The last steps are not saved</DialogTitle>
        <DialogContent>
          {failed && `${save.message} ${save.hint}`} If you leave, the steps are held until this page is
          closed or reloaded.
        </DialogContent>
        <DialogActions>
          <Button onClick={() => saveProjectFile(session.state.history)}>Save as a file</Button>
          <Button color="inherit" onClick={() => router.push('/projects')}>
            Leave
          </Button>
          <Button variant="contained" autoFocus onClick={() => setAsking(false)}>
            Stay
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** The thin line on top: project, stages, undo and redo with the name of the step, whether all is kept. */
export function ProjectHeader() {
  return (
    <Box
      component="header"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        px: 1.5,
        height: 44,
        flex: 'none',
        borderBottom: 1,
        borderColor: 'divider',
        bgcolor: 'background.paper',
      }}
    >
      <HomeButton />
      <ProjectName />
      <Stages />
      <Box sx={{ flex: 1 }} />
      <UndoRedo />
      <HistoryPanel />
      <SaveNote />
      <ProgrammeSettings />
      <HelpButtons />
      <ThemeSwitch />
    </Box>
  );
}

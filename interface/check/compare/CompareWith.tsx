'use client';

import ExpandIcon from '@mui/icons-material/ExpandMore';
import Button from '@mui/material/Button';
import ListItemText from '@mui/material/ListItemText';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useEffect, useState } from 'react';
import { listProjects, type ShelfEntry } from '@/storage/projects';
import { useSession, useSessionState } from '../../session/SessionContext';
import { PickFiles } from '../../ui/PickFiles';

/** So many of the last steps are offered; all of them are in the history. */
const MOST_STEPS = 12;
const MOST_PROJECTS = 12;

/** Selects what the programme is compared with: a state of its history, another project, or a file. */
export function CompareWith({ name }: { name: string | null }) {
  const session = useSession();
  const history = useSessionState((state) => state.history);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [projects, setProjects] = useState<readonly ShelfEntry[]>([]);
  const open = anchor !== null;
  const { id } = history.project;
  useEffect(() => {
    if (!open) return;
    listProjects().then(
      ({ entries }) => setProjects(entries.filter((entry) => entry.id !== id).slice(0, MOST_PROJECTS)),
      () => setProjects([]),
    );
  }, [open, id]);
  const { past } = history;
  const steps = past.map((step, i) => ({
    steps: i,
    name: i === 0 ? 'Before anything was done' : past[i - 1]!.name,
  }));
  const select = (work: () => Promise<void>): void => {
    setAnchor(null);
    void work();
  };
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        endIcon={<ExpandIcon />}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ borderColor: 'divider', maxWidth: 260, justifyContent: 'space-between' }}
      >
        {name === null ? 'Compare with…' : `With: ${name}`}
      </Button>
      <Menu
        anchorEl={anchor}
        open={open}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, 'aria-label': 'Compare with' }, paper: { sx: { maxHeight: 480 } } }}
      >
        <ListSubheader sx={{ lineHeight: 2.4 }}>How it was after a step</ListSubheader>
        {steps.length === 0 && <MenuItem disabled>Nothing was done yet</MenuItem>}
        {steps
          .slice(-MOST_STEPS)
          .reverse()
          .map((step) => (
            <MenuItem
              key={step.steps}
              onClick={() => select(() => session.comparing.withStep(step.steps, step.name))}
            >
              <ListItemText primary={step.name} />
            </MenuItem>
          ))}
        <ListSubheader sx={{ lineHeight: 2.4 }}>Another project</ListSubheader>
        {projects.length === 0 && <MenuItem disabled>There is no other project</MenuItem>}
        {projects.map((entry) => (
          <MenuItem
            key={entry.id}
            onClick={() => select(() => session.comparing.withProject(entry.id, entry.name))}
          >
            <ListItemText primary={entry.name} />
          </MenuItem>
        ))}
      </Menu>
      <PickFiles
        label="With a file…"
        name="Compare with a file"
        variant="outlined"
        icon={null}
        multiple={false}
        onFiles={([file]) => file && void session.comparing.withFile(file)}
      />
    </>
  );
}

'use client';

import ExpandIcon from '@mui/icons-material/ExpandMore';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import ListItemText from '@mui/material/ListItemText';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { hasCurves, hasLimiters } from '@/core/signal/asRecorded';
import { useSession, useSessionState } from '../../session/SessionContext';
import type { Compared } from '../../session/comparison';
import { gainText } from '../clipLevel';

const NAMES: Readonly<Record<Exclude<Compared, number>, string>> = {
  lastStep: 'before',
  asRecorded: 'as recorded',
  noLimiters: 'no limiters',
  noCurves: 'no gain curves',
  other: 'the other',
};

const nameOf = (compared: Compared | null): string =>
  compared === null ? 'current' : typeof compared === 'number' ? `after step ${compared}` : NAMES[compared];

/** What is heard: the programme as it is, before the last step, or as recorded; at its own loudness or matched. */
export function HearMenu({ disabled }: { disabled: boolean }) {
  const session = useSession();
  const { compared, matched, shiftDb, trouble } = useStore(session.listening.comparison.store);
  const last = useSessionState((state) => state.history.past.at(-1)?.name ?? null);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const project = useSessionState((state) => state.history.project);
  const limited = useMemo(() => hasLimiters(project), [project]);
  const curved = useMemo(() => hasCurves(project), [project]);
  const select = (next: Compared | null): void => {
    setAnchor(null);
    session.listening.comparison.choose(next);
  };
  const match =
    compared === null || !matched
      ? 'Each at its own level'
      : (trouble ?? (shiftDb === null ? 'Measuring …' : `The other plays at ${gainText(shiftDb)}`));
  return (
    <>
      <Button
        color={compared === null ? 'inherit' : 'primary'}
        variant={compared === null ? 'text' : 'contained'}
        disabled={disabled}
        endIcon={<ExpandIcon />}
        aria-haspopup="menu"
        data-hearing={compared ?? 'present'}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Compare: {nameOf(compared)}
      </Button>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, 'aria-label': 'What is heard' } }}
      >
        <MenuItem selected={compared === null} onClick={() => select(null)}>
          Current
        </MenuItem>
        <MenuItem
          selected={compared === 'lastStep'}
          disabled={last === null}
          onClick={() => select('lastStep')}
        >
          <ListItemText primary="Before the last step" secondary={last ?? 'Nothing was done yet'} />
        </MenuItem>
        <MenuItem selected={compared === 'asRecorded'} onClick={() => select('asRecorded')}>
          <ListItemText primary="As recorded" secondary="No gain, trim or balance" />
        </MenuItem>
        {(limited || compared === 'noLimiters') && (
          <MenuItem selected={compared === 'noLimiters'} onClick={() => select('noLimiters')}>
            <ListItemText primary="Without limiters" secondary="All of them bypassed" />
          </MenuItem>
        )}
        {(curved || compared === 'noCurves') && (
          <MenuItem selected={compared === 'noCurves'} onClick={() => select('noCurves')}>
            <ListItemText primary="Without gain curves" secondary="Of clips, tracks and programme" />
          </MenuItem>
        )}
        {typeof compared === 'number' && (
          <MenuItem selected onClick={() => setAnchor(null)}>
            <ListItemText primary={`After step ${compared}`} secondary="Selected in History" />
          </MenuItem>
        )}
        <Divider />
        <MenuItem
          role="menuitemcheckbox"
          aria-checked={matched}
          onClick={() => session.listening.comparison.setMatched(!matched)}
        >
          <ListItemText primary={`${matched ? '✓ ' : ''}At matched loudness`} secondary={match} />
        </MenuItem>
      </Menu>
    </>
  );
}

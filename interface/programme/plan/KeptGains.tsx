'use client';

import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import ListItemText from '@mui/material/ListItemText';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { Clip, Id } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { gainText } from '../clipLevel';

/** As many are listed one by one. */
const MOST_LISTED = 100;

interface Props {
  /** Clips whose gain was set by hand. */
  readonly clips: readonly Clip[];
  readonly released: ReadonlySet<Id>;
  readonly onReleased: (released: ReadonlySet<Id>) => void;
}

/** Gains that were set by hand: they are kept, unless they are released one by one or all together. */
export function KeptGains({ clips, released, onReleased }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (clips.length === 0) return null;
  const free = clips.filter(({ id }) => released.has(id)).length;
  const all = free === clips.length;
  const toggle = (id: Id): void => {
    const next = new Set(released);
    if (!next.delete(id)) next.add(id);
    onReleased(next);
  };
  return (
    <>
      <Button color="inherit" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        {count(clips.length, 'gain')} set by hand:{' '}
        {free === 0 ? 'kept' : all ? 'released' : `${free} released`}
      </Button>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, 'aria-label': 'Gains set by hand to be levelled as well' } }}
      >
        <MenuItem
          role="menuitemcheckbox"
          aria-checked={all}
          onClick={() => onReleased(all ? new Set() : new Set(clips.map(({ id }) => id)))}
          divider
        >
          <Checkbox
            size="small"
            checked={all}
            indeterminate={free > 0 && !all}
            tabIndex={-1}
            sx={{ p: 0.25, mr: 1 }}
          />
          Level all of them as well
        </MenuItem>
        {clips.slice(0, MOST_LISTED).map((clip) => (
          <MenuItem
            key={clip.id}
            role="menuitemcheckbox"
            aria-checked={released.has(clip.id)}
            onClick={() => toggle(clip.id)}
          >
            <Checkbox size="small" checked={released.has(clip.id)} tabIndex={-1} sx={{ p: 0.25, mr: 1 }} />
            <ListItemText primary={clip.name} secondary={`${gainText(clip.gain.db)} by hand`} />
          </MenuItem>
        ))}
        {clips.length > MOST_LISTED && (
          <MenuItem disabled>and {count(clips.length - MOST_LISTED, 'more clip')}</MenuItem>
        )}
      </Menu>
    </>
  );
}

'use client';

import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import ListItemText from '@mui/material/ListItemText';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { SetByEar } from '@/core/proposals/setByEar';
import type { Id } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { gainText } from '../clipLevel';

/** As many are listed one by one. */
const MOST_LISTED = 100;

const KIND_WORDS: Readonly<Record<SetByEar['kind'], string>> = {
  clip: 'clip gain',
  track: 'track gain: stays on top of its clips’ level',
  group: 'group gain: stays on top of its clips’ level',
};

interface Props {
  readonly gains: readonly SetByEar[];
  readonly released: ReadonlySet<Id>;
  readonly onReleased: (released: ReadonlySet<Id>) => void;
}

/** Gains that were set by hand or by ear: they stay, unless they are released one by one or all together. */
export function HandSetGains({ gains, released, onReleased }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (gains.length === 0) return null;
  const free = gains.filter(({ id }) => released.has(id)).length;
  const all = free === gains.length;
  const toggle = (id: Id): void => {
    const next = new Set(released);
    if (!next.delete(id)) next.add(id);
    onReleased(next);
  };
  return (
    <>
      <Button
        color="inherit"
        aria-haspopup="menu"
        data-by-hand={gains.length}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {count(gains.length, 'gain')} set by hand:{' '}
        {free === 0 ? 'left alone' : all ? 'released' : `${free} released`}
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
          onClick={() => onReleased(all ? new Set() : new Set(gains.map(({ id }) => id)))}
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
        {gains.slice(0, MOST_LISTED).map(({ id, kind, name, db }) => (
          <MenuItem
            key={id}
            role="menuitemcheckbox"
            aria-checked={released.has(id)}
            onClick={() => toggle(id)}
          >
            <Checkbox size="small" checked={released.has(id)} tabIndex={-1} sx={{ p: 0.25, mr: 1 }} />
            <ListItemText primary={name} secondary={`${gainText(db)} by hand, ${KIND_WORDS[kind]}`} />
          </MenuItem>
        ))}
        {gains.length > MOST_LISTED && (
          <MenuItem disabled>and {count(gains.length - MOST_LISTED, 'more gain')}</MenuItem>
        )}
      </Menu>
    </>
  );
}

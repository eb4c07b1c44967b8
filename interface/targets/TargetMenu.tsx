'use client';

import EditIcon from '@mui/icons-material/EditOutlined';
import ExpandIcon from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import ListItemText from '@mui/material/ListItemText';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useEffect, useState } from 'react';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { figure } from '@/core/text/figures';
import { storageError } from '@/storage/failure';
import { listOwnTargets } from '@/storage/targets';
import { UnreadableItem } from '../ui/UnreadableItem';
import { TargetEditor } from './TargetEditor';

function describe(target: Target): string {
  return `${figure(target.integratedLufs)} LUFS ±${figure(target.toleranceLu)}, at most ${figure(target.maxTruePeakDbtp)} dBTP`;
}

/** Chooses the target in force: those that come with the product, and the editor's own. */
export function TargetMenu({
  target,
  adding = false,
  onChoose,
}: {
  target: Target;
  /** A target is added to those in force, rather than put in the place of one. */
  adding?: boolean;
  onChoose: (target: Target) => void;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const open = anchor !== null;
  const [own, setOwn] = useState<readonly Target[]>([]);
  const [unreadable, setUnreadable] = useState<readonly unknown[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [editing, setEditing] = useState<Target | null>(null);
  useEffect(() => {
    if (open)
      listOwnTargets().then(
        ({ items, unreadable }) => {
          setOwn(items);
          setUnreadable(unreadable);
        },
        (error: unknown) => setTrouble(storageError(error).message),
      );
  }, [open]);
  const isOwn = target.source === 'your own';
  const choose = (chosen: Target): void => {
    setAnchor(null);
    if (chosen !== target) onChoose(chosen);
  };
  const edit = (base: Target): void => {
    setAnchor(null);
    setEditing(base);
  };
  const item = (entry: Target) => (
    <MenuItem key={entry.id} selected={!adding && entry.id === target.id} onClick={() => choose(entry)} dense>
      <ListItemText primary={entry.name} secondary={describe(entry)} />
    </MenuItem>
  );
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        endIcon={<ExpandIcon />}
        aria-haspopup="menu"
        aria-expanded={open}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          borderColor: 'divider',
          textAlign: 'left',
          lineHeight: 1.2,
          minWidth: adding ? 140 : 178,
          justifyContent: 'space-between',
        }}
      >
        {adding ? (
          'Add a target…'
        ) : (
          <Box>
            <Box sx={{ fontSize: 11, color: 'text.secondary', fontWeight: 450 }}>Target</Box>
            {target.name}
          </Box>
        )}
      </Button>
      <Menu
        anchorEl={anchor}
        open={open}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, 'aria-label': 'Targets' } }}
      >
        {SHIPPED_TARGETS.map(item)}
        {own.length > 0 && <ListSubheader sx={{ lineHeight: 2.4 }}>Your own</ListSubheader>}
        {own.map(item)}
        {trouble && (
          <MenuItem disabled dense>
            Your own targets cannot be listed. {trouble}
          </MenuItem>
        )}
        {unreadable.length > 0 && (
          <UnreadableItem entries={unreadable} what="target" file="unreadable targets.json" />
        )}
        <Divider />
        <MenuItem dense onClick={() => edit(target)}>
          <EditIcon fontSize="small" sx={{ mr: 1 }} />
          {isOwn ? `Change “${target.name}”…` : `Make your own from “${target.name}”…`}
        </MenuItem>
      </Menu>
      {editing && (
        <TargetEditor
          base={editing}
          onClose={() => setEditing(null)}
          onSaved={(saved) => {
            setEditing(null);
            onChoose(saved);
          }}
        />
      )}
    </>
  );
}

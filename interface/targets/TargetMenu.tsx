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
import { useEffect, useRef, useState } from 'react';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import { besideKnown, readTargets, writeTargets } from '@/core/check/targetFile';
import { figure } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { storageError } from '@/storage/failure';
import { listOwnTargets, saveOwnTarget } from '@/storage/targets';
import { newId } from '../session/newId';
import { saveBlob } from '../ui/saveBlob';
import { UnreadableItem } from '../ui/UnreadableItem';
import { TargetEditor } from './TargetEditor';

/** No file of targets is larger than this. */
const MOST_BYTES = 1_000_000;

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
  /** What came of a file of targets. */
  const [told, setTold] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
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
  const read = async (picked: File | undefined): Promise<void> => {
    if (!picked) return;
    if (picked.size > MOST_BYTES) return setTold(`${picked.name} is larger than any file of targets.`);
    const found = readTargets(await picked.text());
    if ('error' in found) return setTold(`${picked.name}: ${found.error}`);
    try {
      const { items } = await listOwnTargets();
      const added = besideKnown(found, [...SHIPPED_TARGETS, ...items], newId);
      for (const one of added) setOwn(await saveOwnTarget(one));
      setTold(
        added.length === 0
          ? `${picked.name}: all of its targets are there already.`
          : `${count(added.length, 'target')} added to your own.`,
      );
    } catch (error) {
      setTold(storageError(error).message);
    }
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
        onClose={() => {
          setAnchor(null);
          setTold(null);
        }}
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
        <MenuItem dense onClick={() => file.current?.click()}>
          Targets from a file…
        </MenuItem>
        <MenuItem
          dense
          disabled={own.length === 0}
          onClick={() => {
            setAnchor(null);
            saveBlob(new Blob([writeTargets(own)], { type: 'application/json' }), 'targets.json');
          }}
        >
          Save your own as a file
        </MenuItem>
        {told && (
          <Box
            role="status"
            data-told
            sx={{ px: 2, py: 0.5, maxWidth: 340, fontSize: 12, whiteSpace: 'normal' }}
          >
            {told}
          </Box>
        )}
      </Menu>
      {open && (
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          aria-label="Targets from a file"
          tabIndex={-1}
          style={{ display: 'none' }}
          onChange={(event) => {
            const [picked] = event.target.files ?? [];
            event.target.value = '';
            void read(picked);
          }}
        />
      )}
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

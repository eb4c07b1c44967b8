'use client';

import ExpandIcon from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useRef, useState } from 'react';
import { string, ValidationError } from 'yup';
import { storageError } from '@/storage/failure';
import type { OwnPresets } from '@/storage/presets';
import { safeName } from '@/core/text/safeName';
import { saveBlob } from './saveBlob';
import { UnreadableItem } from './UnreadableItem';

const nameSchema = string().trim().required('Name: 1 to 60 letters').max(60, 'Name: 1 to 60 letters');

/** What presets of one kind are called, where they are saved, and how a file of one is read and written. */
export interface PresetKind<T> {
  /** “plan” */
  readonly one: string;
  readonly shipped: readonly T[];
  readonly own: OwnPresets<T>;
  readonly read: (text: string) => T | { readonly error: string };
  readonly write: (preset: T) => string;
}

const capital = (word: string): string => `${word[0]!.toUpperCase()}${word.slice(1)}`;

/** Which preset: those that come with the product, the editor's own, one from a file; and the one in hand, saved under a name. */
export function PresetMenu<T extends { readonly name: string }>({
  kind,
  preset,
  shown = preset.name,
  onPreset,
}: {
  kind: PresetKind<T>;
  preset: T;
  /** What stands on the button. */
  shown?: string;
  onPreset: (preset: T) => void;
}) {
  const { one, shipped } = kind;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [own, setOwn] = useState<readonly T[]>([]);
  const [unreadable, setUnreadable] = useState<readonly unknown[]>([]);
  const [naming, setNaming] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const open = anchor !== null;
  useEffect(() => {
    if (open)
      kind.own.list().then(
        ({ items, unreadable }) => {
          setOwn(items);
          setUnreadable(unreadable);
        },
        (error: unknown) => setTrouble(`Your own ${one}s cannot be listed. ${storageError(error).message}`),
      );
  }, [open, kind, one]);
  const closing = (action: () => void) => () => {
    setAnchor(null);
    setTrouble(null);
    action();
  };
  const save = async (): Promise<void> => {
    try {
      const named = { ...preset, name: nameSchema.validateSync(naming ?? '') };
      await kind.own.save(named);
      setNaming(null);
      onPreset(named);
    } catch (error) {
      setTrouble(error instanceof ValidationError ? error.message : storageError(error).message);
    }
  };
  const read = async (picked: File | undefined): Promise<void> => {
    if (!picked) return;
    const found = kind.read(await picked.text());
    if ('error' in found) setTrouble(found.error);
    else onPreset(found);
  };
  if (naming !== null)
    return (
      <Box sx={{ display: 'flex', alignItems: 'start', gap: 1 }}>
        <TextField
          label={`Name of the ${one}`}
          autoFocus
          value={naming}
          error={trouble !== null}
          helperText={trouble}
          onChange={(event) => {
            setNaming(event.target.value);
            setTrouble(null);
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter') void save();
            if (event.key === 'Escape') {
              event.stopPropagation();
              setNaming(null);
            }
          }}
        />
        <Button onClick={() => void save()}>Save</Button>
      </Box>
    );
  return (
    <>
      <Button
        color="inherit"
        endIcon={<ExpandIcon />}
        aria-haspopup="menu"
        {...{ [`data-${one}`]: preset.name }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {shown}
      </Button>
      {trouble && (
        <Box role="alert" sx={{ color: 'error.main', fontSize: 12 }}>
          {trouble}
        </Box>
      )}
      <input
        ref={file}
        type="file"
        hidden
        accept=".json,application/json"
        aria-label={`${capital(one)} file`}
        onChange={(event) => {
          void read(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      <Menu
        anchorEl={anchor}
        open={open}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, 'aria-label': `${capital(one)}s` } }}
      >
        {shipped.map((each) => (
          <MenuItem key={`shipped ${each.name}`} onClick={closing(() => onPreset(each))}>
            {each.name}
          </MenuItem>
        ))}
        {own.length > 0 && <ListSubheader sx={{ lineHeight: 2.2 }}>Your own</ListSubheader>}
        {own.map((each) => (
          <MenuItem key={each.name} onClick={closing(() => onPreset(each))}>
            {each.name}
          </MenuItem>
        ))}
        {unreadable.length > 0 && (
          <UnreadableItem entries={unreadable} what={one} file={`unreadable ${one}s.json`} />
        )}
        <Divider />
        <MenuItem
          onClick={closing(() =>
            setNaming(shipped.some(({ name }) => name === preset.name) ? '' : preset.name),
          )}
        >
          Save as…
        </MenuItem>
        {own.some(({ name }) => name === preset.name) && (
          <MenuItem onClick={closing(() => void kind.own.remove(preset.name))}>
            Remove “{preset.name}” from the list
          </MenuItem>
        )}
        <MenuItem
          onClick={closing(() =>
            saveBlob(
              new Blob([kind.write(preset)], { type: 'application/json' }),
              `${safeName(preset.name)}.${one}.json`,
            ),
          )}
        >
          Save as a file
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null);
            setTrouble(null);
            file.current?.click();
          }}
        >
          Open {one} file…
        </MenuItem>
      </Menu>
    </>
  );
}

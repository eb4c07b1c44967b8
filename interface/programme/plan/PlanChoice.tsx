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
import { readPlan, writePlan } from '@/core/proposals/planFile';
import { SPEECH_FIRST, type Plan } from '@/core/programme/plan';
import { storageError } from '@/storage/failure';
import { deleteOwnPlan, listOwnPlans, saveOwnPlan } from '@/storage/plans';
import { fileName, saveBlob } from '../../ui/saveBlob';
import { UnreadableItem } from '../../ui/UnreadableItem';

const nameSchema = string().trim().required('Name: 1 to 60 letters').max(60, 'Name: 1 to 60 letters');

/** Which plan: those that come with the product, those that were kept, one from a file. */
export function PlanChoice({ plan, onPlan }: { plan: Plan; onPlan: (plan: Plan) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [own, setOwn] = useState<readonly Plan[]>([]);
  const [unreadable, setUnreadable] = useState<readonly unknown[]>([]);
  const [naming, setNaming] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const open = anchor !== null;
  useEffect(() => {
    if (open)
      listOwnPlans().then(
        ({ items, unreadable }) => {
          setOwn(items);
          setUnreadable(unreadable);
        },
        (error: unknown) => setTrouble(`Your own plans cannot be listed. ${storageError(error).message}`),
      );
  }, [open]);
  const choose = (action: () => void) => () => {
    setAnchor(null);
    setTrouble(null);
    action();
  };
  const keep = async (): Promise<void> => {
    try {
      const named = { ...plan, name: nameSchema.validateSync(naming ?? '') };
      await saveOwnPlan(named);
      setNaming(null);
      onPlan(named);
    } catch (error) {
      setTrouble(error instanceof ValidationError ? error.message : storageError(error).message);
    }
  };
  const read = async (chosen: File | undefined): Promise<void> => {
    if (!chosen) return;
    const found = readPlan(await chosen.text());
    if ('error' in found) setTrouble(found.error);
    else onPlan(found);
  };
  if (naming !== null)
    return (
      <Box sx={{ display: 'flex', alignItems: 'start', gap: 1 }}>
        <TextField
          label="Name of the plan"
          autoFocus
          value={naming}
          error={trouble !== null}
          helperText={trouble}
          onChange={(event) => {
            setNaming(event.target.value);
            setTrouble(null);
          }}
          onKeyDown={(event) => {
            if (event.key === 'Enter') void keep();
            if (event.key === 'Escape') {
              event.stopPropagation();
              setNaming(null);
            }
          }}
        />
        <Button onClick={() => void keep()}>Save</Button>
      </Box>
    );
  return (
    <>
      <Button
        color="inherit"
        endIcon={<ExpandIcon />}
        aria-haspopup="menu"
        data-plan={plan.name}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {plan.name}
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
        aria-label="Plan file"
        onChange={(event) => {
          void read(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
      <Menu
        anchorEl={anchor}
        open={open}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, 'aria-label': 'Plans' } }}
      >
        <MenuItem onClick={choose(() => onPlan(SPEECH_FIRST))}>{SPEECH_FIRST.name}</MenuItem>
        {own.length > 0 && <ListSubheader sx={{ lineHeight: 2.2 }}>Your own</ListSubheader>}
        {own.map((each) => (
          <MenuItem key={each.name} onClick={choose(() => onPlan(each))}>
            {each.name}
          </MenuItem>
        ))}
        {unreadable.length > 0 && (
          <UnreadableItem entries={unreadable} what="plan" file="unreadable plans.json" />
        )}
        <Divider />
        <MenuItem onClick={choose(() => setNaming(plan === SPEECH_FIRST ? '' : plan.name))}>
          Save as…
        </MenuItem>
        {own.some(({ name }) => name === plan.name) && (
          <MenuItem onClick={choose(() => void deleteOwnPlan(plan.name))}>
            Remove “{plan.name}” from the list
          </MenuItem>
        )}
        <MenuItem
          onClick={choose(() =>
            saveBlob(
              new Blob([writePlan(plan)], { type: 'application/json' }),
              `${fileName(plan.name)}.plan.json`,
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
          Open plan file…
        </MenuItem>
      </Menu>
    </>
  );
}

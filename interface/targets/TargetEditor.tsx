'use client';

import { yupResolver } from '@hookform/resolvers/yup';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Drawer from '@mui/material/Drawer';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useForm, type Resolver } from 'react-hook-form';
import { ANCHORS, targetFrom, targetSchema, type TargetFields } from '@/core/check/schema';
import type { Anchor, Target } from '@/core/check/target';
import { FORM_FIELDS, TARGET_FIELDS } from '@/core/check/targetFields';
import { storageError } from '@/storage/failure';
import { deleteOwnTarget, saveOwnTarget } from '@/storage/targets';
import { FailureNote } from '../ui/FailureNote';
import { Fold } from '../ui/Fold';
import { newId } from '../session/newId';

const ANCHOR_WORDS: Readonly<Record<Anchor, string>> = {
  programme: 'All of it',
  dialogue: 'Speech',
  dialogueFrom: 'Speech, where there is enough of it',
};

/** These are asked for at once; the others stand in folds. */
const FIRST = TARGET_FIELDS.slice(0, 6);
const MORE = TARGET_FIELDS.slice(6);

/** What stands in the fields at first. */
function defaultsOf(base: Target, name: string): TargetFields {
  return {
    ...Object.fromEntries(TARGET_FIELDS.map(({ key }) => [key, base[key] ?? ''])),
    ...Object.fromEntries(FORM_FIELDS.map(({ key }) => [key, (base[key] ?? []).join(', ')])),
    ...{ name, anchor: base.anchor ?? 'programme' },
  };
}

/** A sheet to make a target of one's own, or to change one. */
export function TargetEditor({
  base,
  onClose,
  onSaved,
}: {
  base: Target;
  onClose: () => void;
  onSaved: (target: Target) => void;
}) {
  const own = base.source === 'your own';
  const [failure, setFailure] = useState<{ message: string; hint: string } | null>(null);
  const { register, handleSubmit, formState } = useForm<TargetFields>({
    resolver: yupResolver(targetSchema) as unknown as Resolver<TargetFields>,
    defaultValues: defaultsOf(base, own ? base.name : `${base.name}, own`),
  });
  const save = handleSubmit(async (fields) => {
    const target = targetFrom(fields, { id: own ? base.id : `own-${newId()}`, source: 'your own' });
    try {
      await saveOwnTarget(target);
      onSaved(target);
    } catch (error) {
      setFailure(storageError(error));
    }
  });
  // What uses it keeps its own copy, so only the list gets shorter.
  const remove = async (): Promise<void> => {
    try {
      await deleteOwnTarget(base.id);
      onClose();
    } catch (error) {
      setFailure(storageError(error));
    }
  };
  const field = (key: string, label: string, help: string, mode: 'decimal' | 'text' = 'decimal') => {
    const error = formState.errors[key]?.message;
    return (
      <TextField
        key={key}
        label={label}
        {...register(key)}
        error={Boolean(error)}
        helperText={error ? String(error) : help}
        slotProps={{ htmlInput: { inputMode: mode } }}
      />
    );
  };
  const wrongMore = [...MORE, ...FORM_FIELDS].some(({ key }) => formState.errors[key]);
  return (
    <Drawer
      anchor="right"
      open
      onClose={onClose}
      slotProps={{ paper: { sx: { width: 340, p: 2 }, 'aria-label': 'Target editor' } }}
    >
      <Box
        component="form"
        noValidate
        onSubmit={(event) => void save(event)}
        sx={{ display: 'flex', flexDirection: 'column', gap: 1.75 }}
      >
        <Typography variant="h2" component="h2">
          {own ? 'Change your target' : 'A target of your own'}
        </Typography>
        <TextField
          label="Name"
          autoFocus
          {...register('name')}
          error={Boolean(formState.errors['name'])}
          helperText={formState.errors['name']?.message ?? ' '}
        />
        <TextField
          select
          label="Loudness of"
          {...register('anchor')}
          slotProps={{ select: { native: true } }}
          helperText="Whose loudness is held against the target"
        >
          {ANCHORS.map((anchor) => (
            <option key={anchor} value={anchor}>
              {ANCHOR_WORDS[anchor]}
            </option>
          ))}
        </TextField>
        {FIRST.map(({ key, label, unit, help }) =>
          field(key, `${label} (${key === 'toleranceLu' ? '± ' : ''}${unit})`, help),
        )}
        <Fold name="Further limits, form of the file" forced={wrongMore}>
          {MORE.map(({ key, label, unit, help }) => field(key, `${label} (${unit})`, help))}
          {FORM_FIELDS.map(({ key, label, help }) => field(key, label, help, 'text'))}
        </Fold>
        {failure && <FailureNote {...failure} />}
        <Box sx={{ display: 'flex', gap: 1, justifyContent: 'flex-end' }}>
          {own && (
            <Button color="error" onClick={() => void remove()} sx={{ mr: 'auto' }}>
              Delete from the list
            </Button>
          )}
          <Button color="inherit" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="contained">
            Save and use
          </Button>
        </Box>
      </Box>
    </Drawer>
  );
}

'use client';

import { yupResolver } from '@hookform/resolvers/yup';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Drawer from '@mui/material/Drawer';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useForm, type Resolver } from 'react-hook-form';
import { targetSchema, type TargetFields } from '@/core/check/schema';
import type { Target } from '@/core/check/target';
import { storageError } from '@/storage/failure';
import { deleteOwnTarget, saveOwnTarget } from '@/storage/targets';
import { FailureNote } from '../ui/FailureNote';
import { newId } from '../session/newId';

const FIELDS = [
  ['integratedLufs', 'Integrated', 'LUFS', 'Target loudness of the whole programme'],
  ['toleranceLu', 'Tolerance', '± LU', 'Allowed deviation'],
  ['maxTruePeakDbtp', 'Max true peak', 'dBTP', 'The ceiling'],
  ['maxShortTermLufs', 'Max short-term', 'LUFS', 'Empty: not limited'],
  ['maxMomentaryLufs', 'Max momentary', 'LUFS', 'Empty: not limited'],
  ['maxLoudnessRangeLu', 'Max loudness range', 'LU', 'Empty: not limited'],
] as const;

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
    defaultValues: { ...base, name: own ? base.name : `${base.name}, own` },
  });
  const save = handleSubmit(async (fields) => {
    const target: Target = { ...fields, id: own ? base.id : `own-${newId()}`, source: 'your own' };
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
          error={Boolean(formState.errors.name)}
          helperText={formState.errors.name?.message ?? ' '}
        />
        {FIELDS.map(([name, label, unit, help]) => (
          <TextField
            key={name}
            label={`${label} (${unit})`}
            {...register(name)}
            error={Boolean(formState.errors[name])}
            helperText={formState.errors[name]?.message ?? help}
            slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          />
        ))}
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

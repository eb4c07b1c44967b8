'use client';

import { yupResolver } from '@hookform/resolvers/yup';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Drawer from '@mui/material/Drawer';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { useForm, type Resolver } from 'react-hook-form';
import { serviceSchema, type ServiceFields } from '@/core/check/serviceFile';
import { SHIPPED_SERVICES, type Service } from '@/core/check/services';
import { storageError } from '@/storage/failure';
import { ownServices } from '@/storage/presets';
import { newId } from '../session/newId';
import { FailureNote } from '../ui/FailureNote';

const PEAKS: Readonly<Record<Service['peaks'], string>> = {
  nothing: 'Nothing: they may pass the ceiling',
  stops: 'Turns up no further than the ceiling',
  limits: 'Limits them at the ceiling',
};

/** A sheet to make a service of one's own, or to change one: what it does to loudness. */
export function ServiceEditor({
  base,
  onClose,
  onSaved,
}: {
  base: Service;
  onClose: () => void;
  onSaved: () => void;
}) {
  const own = SHIPPED_SERVICES.every(({ id }) => id !== base.id);
  const [failure, setFailure] = useState<{ message: string; hint: string } | null>(null);
  const { register, handleSubmit, formState } = useForm<ServiceFields>({
    resolver: yupResolver(serviceSchema) as unknown as Resolver<ServiceFields>,
    defaultValues: { ...base, name: own ? base.name : `${base.name}, own` },
  });
  const kept = (work: Promise<unknown>): Promise<void> =>
    work.then(onSaved, (error: unknown) => setFailure(storageError(error)));
  const save = handleSubmit((fields) => {
    const { name, referenceLufs, turnsDown, turnsUp, peaks, ceilingDbtp, byAlbum } = fields;
    const service = {
      ...{
        id: own ? base.id : `own-${newId()}`,
        name,
        referenceLufs,
        turnsDown,
        turnsUp,
        ceilingDbtp,
        byAlbum,
      },
      peaks: peaks as Service['peaks'],
    };
    // Under another name it is the same one.
    const before = own && base.name !== name ? ownServices.remove(base.name) : Promise.resolve([]);
    return kept(before.then(() => ownServices.save(service)));
  });
  const error = (name: keyof ServiceFields): string | undefined => formState.errors[name]?.message;
  return (
    <Drawer
      anchor="right"
      open
      onClose={onClose}
      slotProps={{ paper: { sx: { width: 340, p: 2 }, 'aria-label': 'Service editor' } }}
    >
      <Box
        component="form"
        noValidate
        onSubmit={(event) => void save(event)}
        sx={{ display: 'flex', flexDirection: 'column', gap: 1.75 }}
      >
        <Typography variant="h2" component="h2">
          {own ? 'Change your service' : 'A service of your own'}
        </Typography>
        <TextField
          label="Name"
          autoFocus
          {...register('name')}
          error={Boolean(error('name'))}
          helperText={error('name') ?? ' '}
        />
        <TextField
          label="Plays to (LUFS)"
          {...register('referenceLufs')}
          error={Boolean(error('referenceLufs'))}
          helperText={error('referenceLufs') ?? 'Empty: it is played as it is'}
        />
        <FormControlLabel
          control={<Checkbox defaultChecked={base.turnsDown} {...register('turnsDown')} />}
          label="Turns down what is louder"
        />
        <FormControlLabel
          control={<Checkbox defaultChecked={base.turnsUp} {...register('turnsUp')} />}
          label="Turns up what is quieter"
        />
        <TextField
          select
          label="What it does to peaks"
          {...register('peaks')}
          slotProps={{ select: { native: true } }}
        >
          {Object.entries(PEAKS).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </TextField>
        <TextField
          label="Ceiling (dBTP)"
          {...register('ceilingDbtp')}
          error={Boolean(error('ceilingDbtp'))}
          helperText={error('ceilingDbtp') ?? 'Of its limiter, or where it stops'}
        />
        <FormControlLabel
          control={<Checkbox defaultChecked={base.byAlbum} {...register('byAlbum')} />}
          label="Goes by the album"
        />
        {failure && <FailureNote {...failure} />}
        <Box sx={{ display: 'flex', gap: 1, justifyContent: 'flex-end' }}>
          {own && (
            <Button
              color="error"
              onClick={() => void kept(ownServices.remove(base.name))}
              sx={{ mr: 'auto' }}
            >
              Delete from the list
            </Button>
          )}
          <Button color="inherit" onClick={onClose}>
            Cancel
          </Button>
          <Button type="submit" variant="contained">
            Save
          </Button>
        </Box>
      </Box>
    </Drawer>
  );
}

'use client';

import SaveIcon from '@mui/icons-material/SaveAlt';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { withUnit } from '@/core/text/figures';
import type { Failure } from '@/engine/protocol';
import type { DeliveredFile } from '../session/deliveries/fileLine';
import { useSession } from '../session/SessionContext';
import { FailureNote } from '../ui/FailureNote';
import { PickFiles } from '../ui/PickFiles';
import { ProgressLine } from '../ui/ProgressLine';
import { saveBlob } from '../ui/saveBlob';
import { WrongFile } from '../ui/WrongFile';
import { putIntoFilm, type FilmWithSound } from './filmWithSound';

const FILMS = '.mp4,.m4v,.mov,.mkv';

interface State {
  readonly label: string;
  readonly done: number;
  readonly film: FilmWithSound | null;
  readonly failure: Failure | null;
}

/** Puts a finished sound into a copy of a film, whose picture stays as it is. */
export function PutIntoFilm({ result }: { result: DeliveredFile }) {
  const session = useSession();
  const { files, reference } = useStore(session.pictures.store);
  const [state, setState] = useState<State | null>(null);
  const given = useRef<AbortController | null>(null);
  useEffect(() => () => given.current?.abort(), [result]);
  const known = reference ? [reference.file] : [...new Set(files.values())];
  const begin = async (film: File): Promise<void> => {
    const controller = new AbortController();
    given.current = controller;
    const show = (change: Partial<State>): void => {
      if (!controller.signal.aborted)
        setState({ label: 'Reading', done: 0, film: null, failure: null, ...change });
    };
    show({});
    const outcome = await putIntoFilm(film, result, controller.signal, (label, done) =>
      show({ label, done }),
    );
    if ('failure' in outcome) show({ failure: outcome.failure, done: 1 });
    if ('ok' in outcome) show({ film: outcome.ok, done: 1 });
  };
  if (!result.blob) return null;
  const film = state?.film ?? null;
  const busy = state !== null && !film && !state.failure;
  return (
    <Box
      component="section"
      aria-label="Film"
      sx={{ display: 'grid', gap: 1, borderTop: 1, borderColor: 'divider', pt: 1, justifyItems: 'start' }}
    >
      <Typography variant="h2">Put into a film</Typography>
      <Box sx={{ color: 'text.secondary', fontSize: 12 }}>
        A copy of the film (MP4, MOV, Matroska) with this as its sound; the picture is copied packet for
        packet.
      </Box>
      {!busy && (
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          {known.map((one) => (
            <Button key={one.name} variant="outlined" onClick={() => void begin(one)}>
              Into {one.name}
            </Button>
          ))}
          <PickFiles
            label={known.length > 0 ? 'Another film…' : 'Select the film…'}
            multiple={false}
            variant="outlined"
            accept={FILMS}
            icon={null}
            onFiles={([one]) => void begin(one!)}
          />
        </Box>
      )}
      {busy && (
        <ProgressLine
          label={state.label}
          done={state.done}
          onCancel={() => {
            given.current?.abort();
            setState(null);
          }}
        />
      )}
      {state?.failure && <FailureNote message={state.failure.message} hint={state.failure.hint} />}
      {film && (
        <>
          {film.wrong && <WrongFile wrong={[film.wrong]} hint="Make it again." />}
          <Box data-film={film.name}>
            <b>{film.name}</b>: {withUnit(film.figures.integratedLufs, 'LUFS')}, true peak{' '}
            {withUnit(film.figures.truePeakDbtp, 'dBTP')}, measured from the film. {film.said.join(' ')}
          </Box>
          <Button variant="contained" startIcon={<SaveIcon />} onClick={() => saveBlob(film.blob, film.name)}>
            Save film
          </Button>
        </>
      )}
    </Box>
  );
}

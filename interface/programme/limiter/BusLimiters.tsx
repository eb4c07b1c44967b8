'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Box from '@mui/material/Box';
import { useMemo, useState } from 'react';
import type { LimiterOwner } from '@/core/programme/edits/limiters';
import type { Id } from '@/core/programme/model';
import { useProject } from '../../session/SessionContext';
import { Fold } from '../../ui/Fold';
import { LimiterBox, limiterTitle } from './LimiterBox';

const PROGRAMME: LimiterOwner = { kind: 'programme' };

/** The limiters of the programme and of its tracks. */
export function BusLimiters() {
  const { tracks, limiter } = useProject();
  const [trackSelected, setTrackSelected] = useState<Id | null>(null);
  const track =
    tracks.find(({ id }) => id === trackSelected) ?? tracks.find((one) => one.limiter !== null) ?? tracks[0];
  const trackId = track?.id ?? '';
  const owner = useMemo((): LimiterOwner => ({ kind: 'tracks', ids: new Set([trackId]) }), [trackId]);
  const limited = tracks.filter((one) => one.limiter !== null);
  return (
    <Box
      component="section"
      aria-label="Limiters"
      sx={{ display: 'flex', flexDirection: 'column', gap: 1, mb: 2 }}
    >
      <Fold name={limiterTitle('Programme limiter', [limiter])} remember="Programme limiter">
        <LimiterBox owner={PROGRAMME} who="the programme" />
      </Fold>
      {track && (
        <Fold
          name={
            limited.length === 0
              ? 'Track limiters'
              : `Track limiters: ${limited.map(({ name }) => name).join(', ')}`
          }
          remember="Track limiters"
        >
          <TextField
            select
            label="Track"
            value={track.id}
            onChange={(event) => setTrackSelected(event.target.value)}
          >
            {tracks.map(({ id, name, limiter: own }) => (
              <MenuItem key={id} value={id} dense>
                {name}
                {own && (own.bypassed ? ' (bypassed)' : ' (limited)')}
              </MenuItem>
            ))}
          </TextField>
          <LimiterBox key={track.id} owner={owner} who={`track ${track.name}`} />
        </Fold>
      )}
    </Box>
  );
}

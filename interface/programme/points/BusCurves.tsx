'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { curveOwnedBy, ownerName, setCurve, type CurveOwner } from '@/core/programme/edits/points';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { pointsOf } from '../../session/state';
import { Fold } from '../../ui/Fold';
import { openRide } from '../ride/openRide';
import { addPoint, deletePoints } from './pointActions';
import { PointsGain, PointTable } from './PointTable';

/** The gain over time of the programme and of its tracks. */
export function BusCurves() {
  const session = useSession();
  const project = useProject();
  const playhead = useSessionState((state) => state.playhead);
  const [selectedKey, setKey] = useState<string | null>(null);
  const { tracks, curve: ofAll } = project;
  const curved = tracks.filter(({ curve }) => curve.length > 0);
  const usual = ofAll.length > 0 ? 'programme' : (curved[0]?.id ?? 'programme');
  // Whose points are selected is what is shown.
  const held = useSessionState(({ points }) => points?.owner ?? null);
  const heldKey = held?.kind === 'track' ? held.id : held?.kind === 'programme' ? 'programme' : null;
  const key = heldKey ?? selectedKey;
  const shown = key !== null && (key === 'programme' || tracks.some(({ id }) => id === key)) ? key : usual;
  const owner: CurveOwner = shown === 'programme' ? { kind: 'programme' } : { kind: 'track', id: shown };
  const selected = useSessionState((state) => pointsOf(state.points, owner));
  const curve = curveOwnedBy(project, owner);
  const names = [...(ofAll.length > 0 ? ['programme'] : []), ...curved.map(({ name }) => name)];
  const points = (n: number): string => (n > 0 ? ` (${count(n, 'point')})` : '');
  return (
    <Box component="section" aria-label="Gain curves" sx={{ mb: 1 }}>
      <Fold
        name={names.length > 0 ? `Gain curves: ${names.join(', ')}` : 'Gain curves of tracks and programme'}
        remember="Gain curves"
      >
        <TextField
          select
          label="Of"
          value={shown}
          onChange={(event) => {
            session.selectPoints({ kind: 'programme' }, []);
            setKey(event.target.value);
          }}
        >
          <MenuItem value="programme" dense>
            Programme{points(ofAll.length)}
          </MenuItem>
          {tracks.map(({ id, name, curve: own }) => (
            <MenuItem key={id} value={id} dense>
              {name}
              {points(own.length)}
            </MenuItem>
          ))}
        </TextField>
        {curve.length === 0 ? (
          <Box sx={{ color: 'text.secondary' }}>No points: 0 dB throughout.</Box>
        ) : (
          <>
            <PointTable owner={owner} />
            <PointsGain owner={owner} />
          </>
        )}
        <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
          <Button color="inherit" onClick={() => addPoint(session, owner, playhead)}>
            Add point at playhead
          </Button>
          {selected && (
            <Button color="inherit" onClick={() => deletePoints(session, owner, selected)}>
              Remove {count(selected.size, 'point')}
            </Button>
          )}
          <Button
            color="inherit"
            disabled={project.clips.length === 0}
            onClick={() => openRide(session, owner)}
          >
            Ride…
          </Button>
          <Button
            color="inherit"
            disabled={curve.length === 0}
            onClick={() =>
              session.do(`Turn off the gain curve of ${ownerName(project, owner)}`, (state) =>
                setCurve(state, owner, []),
              )
            }
          >
            Turn off
          </Button>
        </Box>
      </Fold>
    </Box>
  );
}

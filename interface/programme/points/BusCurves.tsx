'use client';

import ClearIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import {
  curveOwnedBy,
  movePoints,
  removePoints,
  setCurve,
  setPoint,
  type CurveOwner,
} from '@/core/programme/edits/points';
import type { CurvePoint, Project } from '@/core/programme/model';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { count } from '@/core/text/words';
import { TypedCell } from '../../editing/TypedCell';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { Fold } from '../../ui/Fold';
import { openRide } from '../ride/openRide';
import { PointGainCell } from './PointGainCell';

/** So many points are listed at once. */
const MOST_ROWS = 200;

const who = (project: Project, owner: CurveOwner): string =>
  owner.kind === 'track'
    ? `track ${project.tracks.find(({ id }) => id === owner.id)?.name ?? ''}`
    : 'the programme';

/** One point: where it is and its gain. */
function PointRow({ owner, point }: { owner: CurveOwner; point: CurvePoint }) {
  const session = useSession();
  const project = useProject();
  const place = placeText(project, point.at, 3);
  const step = (what: string, edit: (state: Project) => Project): void =>
    session.do(`${what} a point of ${who(project, owner)}`, edit);
  return (
    <Box
      data-bus-point
      sx={{ display: 'grid', gridTemplateColumns: '1fr 64px 24px', gap: 0.5, alignItems: 'center' }}
    >
      <TypedCell
        label={`Place of the point at ${place}`}
        shown={place}
        take={(text) => {
          const frame = parsePlace(project, text);
          if (typeof frame !== 'number') return frame.error;
          const frames = Math.round(frame) - point.at;
          step('Move', (state) => movePoints(state, owner, new Set([point.at]), { frames, db: 0 }));
          return null;
        }}
      />
      <PointGainCell
        place={place}
        db={point.db}
        onDb={(db) => step('Set', (state) => setPoint(state, owner, point.at, db))}
      />
      <IconButton
        size="small"
        aria-label={`Remove the point at ${place}`}
        onClick={() => step('Remove', (state) => removePoints(state, owner, new Set([point.at])))}
        sx={{ p: 0.25 }}
      >
        <ClearIcon sx={{ fontSize: 15 }} />
      </IconButton>
    </Box>
  );
}

/** The gain over time of the programme and of its tracks. */
export function BusCurves() {
  const session = useSession();
  const project = useProject();
  const playhead = useSessionState((state) => state.playhead);
  const [key, setKey] = useState<string | null>(null);
  const { tracks, curve: ofAll } = project;
  const curved = tracks.filter(({ curve }) => curve.length > 0);
  const usual = ofAll.length > 0 ? 'programme' : (curved[0]?.id ?? 'programme');
  const selected = key !== null && (key === 'programme' || tracks.some(({ id }) => id === key)) ? key : usual;
  const owner: CurveOwner =
    selected === 'programme' ? { kind: 'programme' } : { kind: 'track', id: selected };
  const curve = curveOwnedBy(project, owner);
  const names = [...(ofAll.length > 0 ? ['programme'] : []), ...curved.map(({ name }) => name)];
  const points = (n: number): string => (n > 0 ? ` (${count(n, 'point')})` : '');
  return (
    <Box component="section" aria-label="Gain curves" sx={{ mb: 1 }}>
      <Fold
        name={names.length > 0 ? `Gain curves: ${names.join(', ')}` : 'Gain curves of tracks and programme'}
        remember="Gain curves"
      >
        <TextField select label="Of" value={selected} onChange={(event) => setKey(event.target.value)}>
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
        <Box
          role="group"
          aria-label={`Points of ${who(project, owner)}`}
          sx={{
            maxHeight: 190,
            overflow: 'auto',
            p: 0.25,
            display: 'flex',
            flexDirection: 'column',
            gap: 0.75,
          }}
        >
          {curve.slice(0, MOST_ROWS).map((point) => (
            <PointRow key={point.at} owner={owner} point={point} />
          ))}
          {curve.length > MOST_ROWS && <Box>and {count(curve.length - MOST_ROWS, 'point')} more</Box>}
          {curve.length === 0 && <Box sx={{ color: 'text.secondary' }}>No points: 0 dB throughout.</Box>}
        </Box>
        <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
          <Button
            color="inherit"
            onClick={() =>
              session.do(`Add a point to ${who(project, owner)}`, (state) => setPoint(state, owner, playhead))
            }
          >
            Add point at playhead
          </Button>
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
              session.do(`Turn off the gain curve of ${who(project, owner)}`, (state) =>
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

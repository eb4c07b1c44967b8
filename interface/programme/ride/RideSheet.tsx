'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { loudnessChange } from '@/core/measuring/curveEffect';
import { curveDbAt } from '@/core/programme/curve';
import { curveOwnedBy, ownerName, type CurveOwner } from '@/core/programme/edits/points';
import type { Project } from '@/core/programme/model';
import { RIDE_TOLERANCES, rawCurve } from '@/core/programme/ride';
import { hasLimiters } from '@/core/signal/asRecorded';
import { clock, signed } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { NumberField } from '../../editing/NumberField';
import { useSession, useSessionState } from '../../session/SessionContext';
import { soundRidden, type TakenRide } from '../../session/riding';
import { BottomSheet } from '../proposal/BottomSheet';
import { ControllerBox } from './ControllerBox';
import { Fader } from './Fader';

const keyOf = (owner: CurveOwner): string =>
  owner.kind === 'programme' ? 'programme' : `${owner.kind} ${owner.id}`;

/** The gating blocks of a track by itself; `null` for anything else, and while they are measured. */
function useTrackBlocks(owner: CurveOwner, project: Project): Float64Array | null {
  const session = useSession();
  const [measured, setMeasured] = useState<{ of: Project; blocks: Float64Array } | null>(null);
  const id = owner.kind === 'track' ? owner.id : null;
  useEffect(() => {
    if (id === null) return;
    let wanted = true;
    void session.engine.summaryOf(soundRidden(project, { kind: 'track', id })).then((outcome) => {
      if (wanted && 'ok' in outcome) setMeasured({ of: project, blocks: outcome.ok.blocks });
    });
    return () => {
      wanted = false;
    };
  }, [session, project, id]);
  return id !== null && measured?.of === project ? measured.blocks : null;
}

/** The ride that was taken: how many points it came to, and how near they are. */
function Taken({ taken }: { taken: TakenRide }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring !== null);
  const measurements = useSessionState((state) => state.clipMeasurements);
  const { owner, before, passes, tolerance } = taken;
  const { sampleRate } = project;
  const curve = curveOwnedBy(project, owner);
  const raw = useMemo(() => rawCurve(before, passes, sampleRate), [before, passes, sampleRate]);
  const values = passes.reduce((sum, pass) => sum + pass.length, 0);
  const frames = passes.reduce((sum, pass) => sum + pass.at(-1)!.at - pass[0]!.at, 0);
  const track = useTrackBlocks(owner, project);
  const change = useMemo(
    () => {
      const clip = owner.kind === 'clip' ? project.clips.find(({ id }) => id === owner.id) : null;
      const blocks = clip
        ? session.clipMeasurements(project)(clip)?.blocks
        : owner.kind === 'track'
          ? track
          : programme?.blocks;
      if (!blocks || measuring) return null;
      const at = (points: typeof raw) => (place: number) => curveDbAt(points, place);
      const thinner = loudnessChange(blocks, clip?.sourceStart ?? 0, sampleRate, at(curve), at(raw));
      return thinner === null ? null : -thinner;
    },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- measurements are read through the session
    [session, project, owner, programme, measuring, measurements, track, curve, raw, sampleRate],
  );
  const isLast = useSessionState((state) => state.history) !== null && session.riding.isLast();
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1, fontSize: 12.5, minWidth: 250 }} data-taken>
      <Box sx={{ fontWeight: 550 }}>Last ride: {taken.name}</Box>
      <Box role="status">
        {clock(frames / sampleRate)} ridden: {count(values, 'value')} thinned to{' '}
        {count(curve.length, 'point')}
        {change !== null && `; loudness differs from the raw ride by ${signed(change, 2)} LU`}.
      </Box>
      {isLast ? (
        <Box sx={{ display: 'flex', gap: 1 }}>
          <NumberField
            label="Tolerance (dB)"
            value={tolerance.db}
            range={RIDE_TOLERANCES.db}
            width={120}
            onValue={(db) => session.riding.thin({ ...tolerance, db })}
          />
          <NumberField
            label="In time (ms)"
            value={tolerance.ms}
            range={RIDE_TOLERANCES.ms}
            width={120}
            onValue={(ms) => session.riding.thin({ ...tolerance, ms })}
          />
        </Box>
      ) : (
        <Box sx={{ color: 'text.secondary' }}>
          Something else was done since: undo that to thin this ride otherwise.
        </Box>
      )}
    </Box>
  );
}

/** A fader that is ridden while it plays, on a clip, a track or the programme. */
export function RideSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const { riding } = session;
  const { owner, until, recording, values, taken, faderDb } = useStore(riding.store);
  const project = useSessionState((state) => state.history.project);
  const selection = useSessionState((state) => state.selection);
  const limited = useMemo(() => hasLimiters(project), [project]);
  const [selected] = selection.size === 1 ? [...selection] : [];
  const start = useRef<HTMLButtonElement>(null);
  useEffect(() => start.current?.focus(), []);
  useEffect(() => () => riding.stop(), [riding]);
  // A clip that was selected meanwhile is what is meant.
  useEffect(() => {
    if (selected !== undefined) riding.setUp({ owner: { kind: 'clip', id: selected } });
  }, [riding, selected]);
  const owners: readonly CurveOwner[] = [
    ...(owner.kind === 'clip'
      ? [owner]
      : selected !== undefined
        ? [{ kind: 'clip', id: selected } as const]
        : []),
    ...project.tracks.map(({ id }): CurveOwner => ({ kind: 'track', id })),
    { kind: 'programme' },
  ];
  const nameOf = (one: CurveOwner): string =>
    one.kind === 'programme'
      ? 'Programme'
      : one.kind === 'clip'
        ? `Clip ${ownerName(project, one)}`
        : ownerName(project, one).replace('track', 'Track');
  return (
    <BottomSheet
      label="Ride"
      onClose={onClose}
      top={
        <>
          <TextField
            select
            label="Ride"
            value={keyOf(owner)}
            disabled={recording}
            onChange={(event) => {
              const next = owners.find((one) => keyOf(one) === event.target.value);
              if (next) riding.setUp({ owner: next });
            }}
            sx={{ minWidth: 190 }}
          >
            {owners.map((one) => (
              <MenuItem key={keyOf(one)} value={keyOf(one)}>
                {nameOf(one)}
              </MenuItem>
            ))}
          </TextField>
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="How long it is ridden"
            value={until}
            disabled={recording}
            onChange={(_, next: typeof until | null) => next && riding.setUp({ until: next })}
            sx={{ '& button': { textTransform: 'none', height: 36 } }}
          >
            <ToggleButton value="touched">While touched</ToggleButton>
            <ToggleButton value="stopped">Until stopped</ToggleButton>
          </ToggleButtonGroup>
        </>
      }
      actions={
        <Button
          ref={start}
          variant="contained"
          color={recording ? 'warning' : 'primary'}
          disabled={project.clips.length === 0}
          onClick={() => (recording ? riding.stop() : riding.start())}
          sx={{ height: 36, whiteSpace: 'nowrap' }}
        >
          {recording ? 'Stop riding' : 'Play and ride'}
        </Button>
      }
    >
      <Box sx={{ display: 'flex', gap: 3, px: 1.5, py: 1, overflow: 'auto' }}>
        <Fader label={`Fader of ${ownerName(project, owner)}`} />
        <Box sx={{ fontSize: 12, color: 'text.secondary', width: 190, flex: 'none' }}>
          <Box role="status" sx={{ fontWeight: 550, mb: 0.75 }} data-riding={recording ? values : ''}>
            {recording ? `Riding: ${signed(faderDb)} dB, ${count(values, 'value')}` : 'Not riding'}
          </Box>
          Drag it, finer with Shift, or use ↑ ↓ while it has the focus. It adds to the curve there is.{' '}
          {until === 'touched'
            ? 'Let go, it goes back; outside of what you touch the curve stays.'
            : 'From the first touch to the stop the curve follows it.'}
          {limited && (
            <Box sx={{ color: 'warning.main', mt: 0.75 }}>
              Limiters cannot follow a hand: they are left out of what you hear while you ride.
            </Box>
          )}
        </Box>
        <ControllerBox />
        {taken && !recording && <Taken taken={taken} />}
      </Box>
    </BottomSheet>
  );
}

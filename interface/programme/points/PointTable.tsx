'use client';

import ClearIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import IconButton from '@mui/material/IconButton';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { SILENT_DB } from '@/core/programme/curve';
import { curveOwnedBy, ownerName, type CurveOwner } from '@/core/programme/edits/points';
import { PART_GAIN } from '@/core/programme/gainField';
import type { CurvePoint, Project } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { count } from '@/core/text/words';
import { GainField } from '../../editing/GainField';
import { TypedCell } from '../../editing/TypedCell';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { pointsOf } from '../../session/state';
import { deletePoints, putPoint, raisePoints, shapePoints } from './pointActions';
import { PointGainCell } from './PointGainCell';
import { SegmentShapeSelect } from './SegmentShapeSelect';

const ROW = 28;
/** Rows of points in sight. */
const ROWS = 7;

/** Where a place on a curve is in the programme, and the other way round. */
function placesOn(project: Project, owner: CurveOwner) {
  const clip = owner.kind === 'clip' ? project.clips.find(({ id }) => id === owner.id) : null;
  return {
    shown: (at: number): number => (clip ? inProgramme(clip, at) : at),
    typed: (frame: number): number => Math.round(clip ? inSource(clip, frame) : frame),
  };
}

/** One point: where it is, its gain, how the curve goes on from it. */
function PointRow({ owner, point, last }: { owner: CurveOwner; point: CurvePoint; last: boolean }) {
  const session = useSession();
  const project = useProject();
  const places = useSessionState((state) => pointsOf(state.points, owner));
  const selected = places?.has(point.at) ?? false;
  const { shown, typed } = placesOn(project, owner);
  const place = placeText(project, shown(point.at), 3);
  const toggle = (): void => {
    const next = new Set(places);
    if (selected) next.delete(point.at);
    else next.add(point.at);
    session.selectPoints(owner, next);
  };
  return (
    <>
      <Checkbox
        size="small"
        checked={selected}
        onChange={toggle}
        slotProps={{ input: { 'aria-label': `Select the point at ${place}` } }}
        sx={{ p: 0.25 }}
      />
      <TypedCell
        label={`Place of the point at ${place}`}
        shown={place}
        take={(text) => {
          const frame = parsePlace(project, text);
          if (typeof frame !== 'number') return frame.error;
          putPoint(session, owner, point.at, { at: typed(frame), db: point.db });
          return null;
        }}
      />
      <PointGainCell
        place={place}
        db={point.db}
        onDb={(db) => putPoint(session, owner, point.at, { at: point.at, db })}
      />
      <SegmentShapeSelect
        label={`Segment from ${place}`}
        shape={point.shape}
        disabled={last}
        onShape={(shape) =>
          shapePoints(session, owner, selected && places ? places : new Set([point.at]), shape)
        }
      />
      <IconButton
        size="small"
        aria-label={`Remove the point at ${place}`}
        onClick={() => deletePoints(session, owner, new Set([point.at]))}
        sx={{ p: 0.25 }}
      >
        <ClearIcon sx={{ fontSize: 15 }} />
      </IconButton>
    </>
  );
}

/** All points of a curve, a row each; only those in sight are built. */
export function PointTable({ owner }: { owner: CurveOwner }) {
  const project = useProject();
  const curve = curveOwnedBy(project, owner);
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const rows = useVirtualizer({
    count: curve.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 4,
  });
  return (
    <Box
      ref={scroller}
      role="group"
      aria-label={`Points of ${ownerName(project, owner)}`}
      sx={{ maxHeight: ROW * ROWS, overflow: 'auto' }}
    >
      <Box sx={{ position: 'relative' }} style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map(({ index, start }) => (
          <Box
            key={index}
            data-point={index}
            sx={{
              position: 'absolute',
              left: 0,
              right: 0,
              height: ROW,
              display: 'grid',
              gridTemplateColumns: '24px 1fr 56px 88px 24px',
              gap: 0.5,
              alignItems: 'center',
              fontSize: 12,
            }}
            style={{ top: start }}
          >
            <PointRow owner={owner} point={curve[index]!} last={index === curve.length - 1} />
          </Box>
        ))}
      </Box>
    </Box>
  );
}

/** The gain of the points that are selected, or of all of them. */
export function PointsGain({ owner }: { owner: CurveOwner }) {
  const session = useSession();
  const curve = curveOwnedBy(useProject(), owner);
  const selected = useSessionState((state) => pointsOf(state.points, owner));
  const meant = selected ?? new Set(curve.map(({ at }) => at));
  const levels = curve.filter(({ at, db }) => meant.has(at) && db > SILENT_DB);
  const level = levels.every(({ db }) => db === levels[0]?.db) ? (levels[0]?.db ?? null) : null;
  return (
    <GainField
      label={selected ? `Gain of ${count(selected.size, 'point')} (dB)` : 'Gain of all points (dB)'}
      value={level}
      range={PART_GAIN}
      hint=""
      onEntry={(entry) => {
        if (entry.kind === 'change') return raisePoints(session, owner, meant, entry.db);
        if (level !== null) return raisePoints(session, owner, meant, entry.db - level);
        session.notes.tell('These points differ: write += or −= before the number to raise or lower them.');
      }}
    />
  );
}

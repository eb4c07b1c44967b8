'use client';

import ClearIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef, useState } from 'react';
import { curveEffect } from '@/core/measuring/curveEffect';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import { curveReasonOf } from '@/core/programme/curveReason';
import { PART_GAIN } from '@/core/programme/gainField';
import { isCurveStale } from '@/core/proposals/curveFor';
import { SEGMENT_SHAPES } from '@/core/programme/projectSchema';
import type { Clip, CurvePoint, SegmentShape } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { count } from '@/core/text/words';
import { GainField } from '../../editing/GainField';
import { TypedCell } from '../../editing/TypedCell';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { Fold } from '../../ui/Fold';
import { SEGMENT_WORDS } from '../../ui/words';
import { gainText } from '../clipLevel';
import { PointGainCell } from './PointGainCell';
import {
  addPoint,
  copyClipPoints,
  deletePoints,
  useCopiedPoints,
  pasteOnClips,
  putPoint,
  raisePoints,
  shapePoints,
  turnCurveOff,
  type GainLeft,
} from './pointActions';

const SHAPES: readonly (SegmentShape | 'straight')[] = ['straight', ...SEGMENT_SHAPES];
const ROW = 28;
/** Rows of points in sight. */
const ROWS = 7;

/** One point: where it is, its gain, how the curve goes on from it. */
function PointRow({ clip, point, last }: { clip: Clip; point: CurvePoint; last: boolean }) {
  const session = useSession();
  const project = useProject();
  const points = useSessionState((state) => state.points);
  const selected = points?.clipId === clip.id && points.places.has(point.at);
  const place = placeText(project, inProgramme(clip, point.at), 3);
  const toggle = (): void => {
    const next = new Set(points?.clipId === clip.id ? points.places : []);
    if (selected) next.delete(point.at);
    else next.add(point.at);
    session.selectPoints(clip.id, next);
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
          putPoint(session, clip, point.at, { at: Math.round(inSource(clip, frame)), db: point.db });
          return null;
        }}
      />
      <PointGainCell
        place={place}
        db={point.db}
        onDb={(db) => putPoint(session, clip, point.at, { at: point.at, db })}
      />
      <Box
        component="select"
        aria-label={`Segment from ${place}`}
        value={point.shape ?? 'straight'}
        disabled={last}
        onChange={(event) => {
          const { value } = event.target as unknown as HTMLSelectElement;
          shapePoints(
            session,
            clip,
            selected && points ? points.places : new Set([point.at]),
            value === 'straight' ? undefined : (value as SegmentShape),
          );
        }}
        sx={{ font: 'inherit', fontSize: 11.5, color: 'inherit', bgcolor: 'background.paper', width: 88 }}
      >
        {SHAPES.map((shape) => (
          <option key={shape} value={shape}>
            {SEGMENT_WORDS[shape]}
          </option>
        ))}
      </Box>
      <IconButton
        size="small"
        aria-label={`Remove the point at ${place}`}
        onClick={() => deletePoints(session, clip, new Set([point.at]))}
        sx={{ p: 0.25 }}
      >
        <ClearIcon sx={{ fontSize: 15 }} />
      </IconButton>
    </>
  );
}

/** All points of a clip, a row each; only those in sight are built. */
function PointTable({ clip }: { clip: Clip }) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const rows = useVirtualizer({
    count: clip.curve.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 4,
  });
  return (
    <Box
      ref={scroller}
      role="group"
      aria-label={`Points of ${clip.name}`}
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
            <PointRow clip={clip} point={clip.curve[index]!} last={index === clip.curve.length - 1} />
          </Box>
        ))}
      </Box>
    </Box>
  );
}

/** Takes the curve off, with what gain is to stay. */
function TurnOff({ clip }: { clip: Clip }) {
  const session = useSession();
  const project = useProject();
  const playhead = useSessionState((state) => state.playhead);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const measurement = anchor ? session.clipMeasurements(project)(clip) : null;
  const mean = measurement && curveEffect(measurement, clip, project.sampleRate);
  const at = inSource(clip, Math.max(clip.start, Math.min(playhead, clip.start + clip.length)));
  const here = curveDbAt(clip.curve, at);
  const off = (keep: GainLeft) => () => {
    setAnchor(null);
    turnCurveOff(session, clip, keep, at, mean);
  };
  return (
    <>
      <Button color="inherit" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Turn off…
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={off('none')}>
          Clip gain as it is
        </MenuItem>
        <MenuItem dense disabled={mean === null} onClick={off('mean')}>
          Keep its loudness{mean === null ? '' : `: clip gain about ${gainText(mean)}`}
        </MenuItem>
        <MenuItem dense disabled={here <= SILENT_DB} onClick={off('playhead')}>
          As at the playhead{here <= SILENT_DB ? '' : `: clip gain ${gainText(here)}`}
        </MenuItem>
      </Menu>
    </>
  );
}

/** How a curve came about. */
const CURVE_WORDS = {
  byHand: 'Set by hand.',
  ducked: 'Ducked under speech.',
  evened: 'Evened out.',
} as const;

/** The gain curve of a clip: its points, and what can be done to all of them or to those that are selected. */
export function CurveBox({ clip }: { clip: Clip }) {
  const session = useSession();
  const project = useProject();
  const points = useSessionState((state) => state.points);
  const playhead = useSessionState((state) => state.playhead);
  const selected = points?.clipId === clip.id ? points.places : null;
  const all = new Set(clip.curve.map(({ at }) => at));
  const meant = selected ?? all;
  const within = playhead > clip.start && playhead < clip.start + clip.length;
  const levels = clip.curve.filter(({ at, db }) => meant.has(at) && db > SILENT_DB);
  const level = levels.every(({ db }) => db === levels[0]?.db) ? (levels[0]?.db ?? null) : null;
  return (
    <Fold
      name={clip.curve.length === 0 ? 'Gain curve' : `Gain curve: ${count(clip.curve.length, 'point')}`}
      remember="Gain curve"
    >
      {clip.curve.length === 0 ? (
        <Box sx={{ color: 'text.secondary' }}>
          Double-click in the clip to add a point, then drag it. Ctrl-click selects several.
        </Box>
      ) : (
        <>
          <Box sx={{ color: 'text.secondary' }} data-curve-reason>
            {CURVE_WORDS[curveReasonOf(clip)?.kind ?? 'byHand']}
            {isCurveStale(project, clip) && (
              <Box component="span" sx={{ color: 'warning.main' }}>
                {' '}
                ! It was worked out for what is no more:{' '}
                {curveReasonOf(clip)?.kind === 'ducked' ? 'duck' : 'even out'} the clip again.
              </Box>
            )}
          </Box>
          <PointTable clip={clip} />
          <GainField
            label={selected ? `Gain of ${count(selected.size, 'point')} (dB)` : 'Gain of all points (dB)'}
            value={level}
            range={PART_GAIN}
            hint=""
            onEntry={(entry) => {
              if (entry.kind === 'change') return raisePoints(session, clip, meant, entry.db);
              if (level !== null) return raisePoints(session, clip, meant, entry.db - level);
              session.notes.tell(
                'These points differ: write += or −= before the number to raise or lower them.',
              );
            }}
          />
        </>
      )}
      <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
        <Button
          color="inherit"
          disabled={!within}
          title={within ? undefined : 'Move the playhead into the clip first'}
          onClick={() => addPoint(session, clip, inSource(clip, playhead))}
        >
          Add point at playhead
        </Button>
        {selected && (
          <Button color="inherit" onClick={() => deletePoints(session, clip, selected)}>
            Remove {count(selected.size, 'point')}
          </Button>
        )}
        <Button
          color="inherit"
          disabled={clip.curve.length === 0}
          onClick={() => {
            copyClipPoints(clip, selected);
            session.notes.tell(`${count(meant.size, 'point')} copied.`);
          }}
        >
          Copy points
        </Button>
        <PasteButtons clips={[clip]} />
        {clip.curve.length > 0 && <TurnOff clip={clip} />}
      </Box>
    </Fold>
  );
}

/** Puts the points that were copied last on clips. */
export function PasteButtons({ clips }: { clips: readonly Clip[] }) {
  const session = useSession();
  if (useCopiedPoints() === 0) return null;
  return (
    <>
      <Button color="inherit" onClick={() => pasteOnClips(session, clips, false)}>
        Paste points
      </Button>
      <Button
        color="inherit"
        title="The points are spread over each clip as they were over theirs"
        onClick={() => pasteOnClips(session, clips, true)}
      >
        Paste to length
      </Button>
    </>
  );
}

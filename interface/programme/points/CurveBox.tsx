'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { curveEffect } from '@/core/measuring/curveEffect';
import { curveDbAt, SILENT_DB } from '@/core/programme/curve';
import { curveReasonOf } from '@/core/programme/curveReason';
import { isCurveStale } from '@/core/proposals/curveFor';
import type { Clip } from '@/core/programme/model';
import { inSource } from '@/core/programme/sections';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { pointsOf } from '../../session/state';
import { Fold } from '../../ui/Fold';
import { gainText } from '../clipLevel';
import { PointsGain, PointTable } from './PointTable';
import {
  addPoint,
  copyClipPoints,
  deletePoints,
  ownerOf,
  pasteOnClips,
  turnCurveOff,
  useCopiedPoints,
  type GainLeft,
} from './pointActions';

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
  const owner = ownerOf(clip);
  const selected = useSessionState((state) => pointsOf(state.points, owner));
  const playhead = useSessionState((state) => state.playhead);
  const within = playhead > clip.start && playhead < clip.start + clip.length;
  return (
    <Fold
      name={clip.curve.length === 0 ? 'Gain curve' : `Gain curve: ${count(clip.curve.length, 'point')}`}
      remember="Gain curve"
    >
      {clip.curve.length === 0 ? (
        <Box sx={{ color: 'text.secondary' }}>
          Double-click in the clip to add a point, then drag it. Ctrl-click selects several; so does
          Shift-drag over them.
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
          <PointTable owner={owner} />
          <PointsGain owner={owner} />
        </>
      )}
      <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
        <Button
          color="inherit"
          disabled={!within}
          title={within ? undefined : 'Move the playhead into the clip first'}
          onClick={() => addPoint(session, owner, inSource(clip, playhead))}
        >
          Add point at playhead
        </Button>
        {selected && (
          <Button color="inherit" onClick={() => deletePoints(session, owner, selected)}>
            Remove {count(selected.size, 'point')}
          </Button>
        )}
        <Button
          color="inherit"
          disabled={clip.curve.length === 0}
          onClick={() => {
            copyClipPoints(clip, selected);
            session.notes.tell(`${count(selected?.size ?? clip.curve.length, 'point')} copied.`);
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

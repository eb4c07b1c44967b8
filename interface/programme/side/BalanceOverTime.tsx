'use client';

import ClearIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import {
  clipBalanceAt,
  moveBalancePoint,
  removeBalancePoint,
  setBalancePoint,
  shapeBalance,
  turnBalanceCurveOff,
} from '@/core/programme/edits/balance';
import type { BalancePoint, Clip, Project } from '@/core/programme/model';
import { inProgramme, inSource } from '@/core/programme/sections';
import { parsePlace, placeText } from '@/core/programme/timeText';
import { balanceText, readBalance } from '@/core/text/balance';
import { TypedCell } from '../../editing/TypedCell';
import { useProject, useSession } from '../../session/SessionContext';
import { SegmentShapeSelect } from '../points/SegmentShapeSelect';

function PointRow({ clip, point, last }: { clip: Clip; point: BalancePoint; last: boolean }) {
  const session = useSession();
  const project = useProject();
  const place = placeText(project, inProgramme(clip, point.at), 3);
  const step = (what: string, edit: (state: Project) => Project): void =>
    session.do(`${what} a balance point of ${clip.name}`, edit);
  return (
    <Box
      data-balance-point
      sx={{ display: 'grid', gridTemplateColumns: '1fr 58px 88px 24px', gap: 0.5, alignItems: 'center' }}
    >
      <TypedCell
        label={`Place of the balance point at ${place}`}
        shown={place}
        take={(text) => {
          const frame = parsePlace(project, text);
          if (typeof frame !== 'number') return frame.error;
          step('Move', (state) => moveBalancePoint(state, clip.id, point.at, inSource(clip, frame)));
          return null;
        }}
      />
      <TypedCell
        label={`Balance at ${place}`}
        shown={balanceText(point.balance)}
        take={(text) => {
          const balance = readBalance(text);
          if (typeof balance !== 'number') return balance.error;
          step('Set', (state) => setBalancePoint(state, clip.id, point.at, balance));
          return null;
        }}
      />
      <SegmentShapeSelect
        label={`Balance from ${place}`}
        shape={point.shape}
        disabled={last}
        onShape={(shape) => step('Shape', (state) => shapeBalance(state, clip.id, point.at, shape))}
      />
      <IconButton
        size="small"
        aria-label={`Remove the balance point at ${place}`}
        onClick={() => step('Remove', (state) => removeBalancePoint(state, clip.id, point.at))}
        sx={{ p: 0.25 }}
      >
        <ClearIcon sx={{ fontSize: 15 }} />
      </IconButton>
    </Box>
  );
}

/** Where a clip's sound moves between left and right. @param at frame of its source under the playhead; `null` where that is outside the clip */
export function BalanceOverTime({ clip, at }: { clip: Clip; at: number | null }) {
  const session = useSession();
  const { balanceCurve } = clip;
  const here = at === null ? null : clipBalanceAt(clip, at);
  return (
    <Box sx={{ mt: 0.5, display: 'flex', flexDirection: 'column', gap: 0.5 }}>
      {balanceCurve.map((point, i) => (
        <PointRow key={point.at} clip={clip} point={point} last={i === balanceCurve.length - 1} />
      ))}
      <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
        <Button
          color="inherit"
          disabled={at === null}
          title={at === null ? 'Move the playhead into the clip first' : undefined}
          onClick={() =>
            session.do(`Add a balance point to ${clip.name}`, (state) => setBalancePoint(state, clip.id, at!))
          }
        >
          Add balance point at playhead
        </Button>
        {balanceCurve.length > 0 && (
          <Button
            color="inherit"
            onClick={() => {
              const stays = here ?? balanceCurve[0]!.balance;
              session.do(
                `Turn off the balance over time of ${clip.name}, ${balanceText(stays)} throughout`,
                (state) => turnBalanceCurveOff(state, clip.id, stays),
              );
            }}
          >
            Turn off, {balanceText(here ?? balanceCurve[0]!.balance)} throughout
          </Button>
        )}
      </Box>
    </Box>
  );
}

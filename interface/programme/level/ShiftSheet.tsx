'use client';

import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { limitedShift } from '@/core/proposals/limitedShift';
import { loweredShift } from '@/core/proposals/loweredShift';
import { ruledBlocks, ruledBySpeech, shiftProposal } from '@/core/proposals/programmeShift';
import { signed } from '@/core/text/figures';
import { useSession, useSessionState } from '../../session/SessionContext';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { useRows } from '../proposal/useRows';
import { useLimitedShift, type LimitedShiftState } from './useLimitedShift';

type Way = 'stop' | 'limit' | 'lower';

/** Why it cannot be applied yet. */
function waitingFor(measured: boolean, way: Way, { found, done, failure }: LimitedShiftState): string | null {
  if (!measured) return 'Waiting for the measurement …';
  if (way !== 'limit' || found) return null;
  if (failure) return `${failure.message} ${failure.hint}`;
  return `Finding the gain with the limiter: ${Math.round(done * 100)} % …`;
}

/**
 * Brings the whole programme to its target by one change of every track's gain: up to the ceiling, through a limiter, or with what
 * would pass the ceiling lowered.
 */
export function ShiftSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  // Told anew with every measurement; while it is previewed, what was measured at rest counts.
  useSessionState((state) => state.programme);
  const level = session.measurer.atRest(project);
  const { target } = project;
  const [asked, setWay] = useState<Way>(project.limiter && !project.limiter.bypassed ? 'limit' : 'stop');
  const bySpeech = useMemo(() => level !== null && ruledBySpeech(project, level.blocks), [level, project]);
  // With a limiter, or places lowered, the loudness of speech alone is not worked out.
  const way = bySpeech ? 'stop' : asked;
  const plain = useMemo(
    () =>
      level &&
      shiftProposal(
        { blocks: ruledBlocks(project, level.blocks), truePeakDbtp: level.figures.truePeakDbtp },
        project,
      ),
    [level, project],
  );
  const solving = useLimitedShift(way === 'limit', project, level?.blocks ?? null);
  const { limiter, found } = solving;
  const proposal = useMemo(() => {
    if (way === 'stop' || !level) return plain;
    if (way === 'lower') return loweredShift(level, project);
    const alone = plain?.rows[0]?.limitedBy === 'ceiling' ? plain.rows[0].gainAfterDb : null;
    return found && limitedShift({ blocks: level.blocks }, project, limiter, found, alone);
  }, [way, level, plain, found, limiter, project]);
  const of = useRows(proposal, project);
  const [shift] = of.picked;
  return (
    <ProposalSheet
      label="Bring programme to target"
      of={of}
      words={{ subject: 'Programme' }}
      fields={
        <>
          <Typography variant="h2" sx={{ lineHeight: '36px' }}>
            Bring programme to {target.name}
          </Typography>
          <ToggleButtonGroup
            exclusive
            size="small"
            aria-label="At the ceiling"
            value={way}
            onChange={(_, next: Way | null) => next && setWay(next)}
            sx={{ height: 36 }}
          >
            <ToggleButton value="stop" sx={{ textTransform: 'none', px: 1 }}>
              Limit gain to ceiling
            </ToggleButton>
            <ToggleButton value="limit" disabled={bySpeech} sx={{ textTransform: 'none', px: 1 }}>
              Limit peaks
            </ToggleButton>
            <ToggleButton value="lower" disabled={bySpeech} sx={{ textTransform: 'none', px: 1 }}>
              Lower places with peaks
            </ToggleButton>
          </ToggleButtonGroup>
        </>
      }
      told={
        level
          ? way === 'limit'
            ? `Every track’s gain changes by the same amount, and “${limiter.name}” limits the programme.`
            : way === 'lower'
              ? 'Every track’s gain changes by the same amount, and the programme goes down where peaks would pass the ceiling.'
              : `Every track’s gain changes by the same amount: the balance and the gains of clips stay.${bySpeech ? ' The target goes by speech: that is what is measured here.' : ''}`
          : ''
      }
      waiting={waitingFor(level !== null, way, solving)}
      empty={
        <Box sx={{ px: 1.5, pb: 1.5 }}>
          {level && way !== 'limit' && 'There is nothing over −70 LUFS in the programme yet.'}
        </Box>
      }
      apply={() => `Apply ${shift ? `${signed(shift.gainAfterDb, 2)} dB` : ''} to all`}
      applyFirst
      onClose={onClose}
    />
  );
}

'use client';

import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { shiftProposal } from '@/core/proposals/programmeShift';
import { signed } from '@/core/text/figures';
import { useSession, useSessionState } from '../../session/SessionContext';
import { ProposalSheet } from '../proposal/ProposalSheet';
import { useRows } from '../proposal/useRows';

/** Brings the whole programme to its target by one change of every track's gain. */
export function ShiftSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useSessionState((state) => state.history.project);
  // Told anew with every measurement; while it is previewed, what was measured at rest counts.
  useSessionState((state) => state.programme);
  const level = session.measurer.atRest(project);
  const { target } = project;
  const proposal = useMemo(
    () => level && shiftProposal({ blocks: level.blocks, truePeakDbtp: level.figures.truePeakDbtp }, project),
    [level, project],
  );
  const of = useRows(proposal, project);
  const [shift] = of.picked;
  return (
    <ProposalSheet
      label="Bring programme to target"
      of={of}
      words={{ subject: 'Programme' }}
      fields={
        <Typography variant="h2" sx={{ lineHeight: '36px' }}>
          Bring programme to {target.name}
        </Typography>
      }
      told={
        level ? 'Every track’s gain changes by the same amount: the balance and the gains of clips stay.' : ''
      }
      waiting={level ? null : 'Waiting for the measurement …'}
      empty={
        <Box sx={{ px: 1.5, pb: 1.5 }}>{level && 'There is nothing over −70 LUFS in the programme yet.'}</Box>
      }
      apply={() => `Apply ${shift ? `${signed(shift.gainAfterDb, 2)} dB` : ''} to all`}
      applyFirst
      onClose={onClose}
    />
  );
}

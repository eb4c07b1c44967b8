'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { proposeProgrammeShift } from '@/core/proposals/programmeShift';
import { applyGains } from '@/core/programme/edits/gain';
import { audibleClips } from '@/core/signal/audible';
import { figure, withUnit } from '@/core/text/figures';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { BottomSheet } from '../BottomSheet';
import { gainText } from '../clipLevel';

/** Brings the whole programme to its target by one change of every clip's gain. */
export function ShiftSheet({ onClose }: { onClose: () => void }) {
  const session = useSession();
  const project = useProject();
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring);
  const { target } = project;
  const shift = useMemo(
    () =>
      programme &&
      proposeProgrammeShift(
        { blocks: programme.blocks, truePeakDbtp: programme.figures.truePeakDbtp },
        audibleClips(project),
        target,
      ),
    [programme, project, target],
  );
  const ready = measuring === null && shift !== null;
  const apply = (): void => {
    if (!shift) return;
    session.do(`Bring programme to ${withUnit(target.integratedLufs, 'LUFS')}`, (current) =>
      applyGains(current, shift.gains),
    );
    onClose();
  };
  return (
    <BottomSheet
      label="Bring programme to target"
      onClose={onClose}
      top={
        <>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="h2">Bring programme to {target.name}</Typography>
            <Box data-shift={ready ? shift.shiftDb : ''} sx={{ mt: 0.25 }}>
              {measuring !== null
                ? 'Waiting for the measurement …'
                : (shift?.sentence ?? 'There is nothing over −70 LUFS in the programme yet.')}
            </Box>
            {ready && (
              <Box sx={{ mt: 0.25, fontSize: 12, color: 'text.secondary' }}>
                Integrated {figure(shift.integratedBefore)} to {figure(shift.integratedAfter)} LUFS; true peak
                to {figure(shift.truePeakAfter)} dBTP
              </Box>
            )}
          </Box>
          <Button variant="contained" autoFocus disabled={!ready} onClick={apply}>
            Apply {ready ? gainText(shift.shiftDb) : ''} to all
          </Button>
        </>
      }
    />
  );
}

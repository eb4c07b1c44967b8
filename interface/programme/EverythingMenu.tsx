'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { moveEverything } from '@/core/programme/edits/levels';
import type { GainRange } from '@/core/programme/gainField';
import { figure } from '@/core/text/figures';
import { useSession, useSessionState } from '../session/SessionContext';
import { gainText } from './clipLevel';
import { GainField } from './GainField';

const SHIFT: GainRange = { name: 'The change', min: -48, max: 48 };

/** Raises or lowers everything at once: each track's gain, once. */
export function EverythingMenu({ disabled }: { disabled: boolean }) {
  const session = useSession();
  const figures = useSessionState((state) => state.programme?.figures ?? null);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const move = (db: number): void => {
    setAnchor(null);
    session.do(`Move everything by ${gainText(db)}`, (project) => moveEverything(project, db));
  };
  return (
    <>
      <Button
        color="inherit"
        disabled={disabled}
        aria-haspopup="dialog"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Move everything…
      </Button>
      <Popover
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Move everything' } }}
      >
        <Box sx={{ p: 2, width: 300 }}>
          <GainField
            label="All tracks by (dB)"
            value={0}
            range={SHIFT}
            hint="−3 lowers all by 3 dB"
            onEntry={({ db }) => move(db)}
          />
          <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 1 }}>
            Each track’s gain moves once, so nothing falls twice and every balance stays. Now: integrated{' '}
            {figure(figures?.integratedLufs ?? null)} LUFS, true peak {figure(figures?.truePeakDbtp ?? null)}{' '}
            dBTP.
          </Box>
        </Box>
      </Popover>
    </>
  );
}

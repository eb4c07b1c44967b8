'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { moveEverything } from '@/core/programme/edits/levels';
import type { GainRange } from '@/core/programme/gainField';
import { heldEverything } from '@/core/programme/heldChange';
import { figure } from '@/core/text/figures';
import { doHeld } from '../../session/doHeld';
import { useSession, useSessionState } from '../../session/SessionContext';
import { shownFigures } from '../../session/state';
import { gainText } from '../clipLevel';
import { GainField } from '../../editing/GainField';

const SHIFT: GainRange = { name: 'The change', min: -48, max: 48 };

/** Raises or lowers everything at once: each track's gain, once. */
export function EverythingMenu({ disabled }: { disabled: boolean }) {
  const session = useSession();
  const programme = useSessionState((state) => state.programme);
  const moved = useSessionState((state) => state.moved);
  const { figures, peakIsBound } = shownFigures({ programme, moved });
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [moving, setMoving] = useState<number | null>(null);
  const open = (element: HTMLElement): void => {
    session.prepare(new Set(session.project.clips.map(({ id }) => id)));
    setAnchor(element);
  };
  const preview = (db: number): void => {
    const { project } = session;
    setMoving(db);
    session.previewLevel(new Set(project.clips.map(({ id }) => id)), db, moveEverything(project, db));
  };
  const close = (): void => {
    setAnchor(null);
    if (moving !== null) session.setPreview(null);
    setMoving(null);
  };
  const move = (db: number): void => {
    setAnchor(null);
    setMoving(null);
    doHeld(
      session,
      heldEverything(session.project, db),
      (by) => `Offset all gains by ${gainText(by)}`,
      moveEverything,
    );
  };
  return (
    <>
      <Button
        color="inherit"
        disabled={disabled}
        aria-haspopup="dialog"
        onClick={(event) => open(event.currentTarget)}
      >
        Offset all gains…
      </Button>
      <Popover
        anchorEl={anchor}
        open={anchor !== null}
        onClose={close}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        transformOrigin={{ vertical: 'top', horizontal: 'right' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Offset all gains' } }}
      >
        <Box sx={{ p: 2, width: 300 }}>
          <GainField
            label="All tracks by (dB)"
            value={0}
            range={SHIFT}
            hint="−3 lowers all by 3 dB"
            onEntry={({ db }) => move(db)}
          />
          <Slider
            size="small"
            min={-24}
            max={24}
            step={0.1}
            value={moving ?? 0}
            marks={[-24, -12, 0, 12, 24].map((value) => ({ value, label: gainText(value) }))}
            valueLabelDisplay="auto"
            valueLabelFormat={gainText}
            aria-label="Offset all gains by"
            getAriaValueText={gainText}
            onChange={(_, db) => preview(db)}
            sx={{ mt: 1 }}
          />
          {moving !== null && moving !== 0 && (
            <Button variant="outlined" onClick={() => move(moving)} sx={{ display: 'block', mt: 0.5 }}>
              Move by {gainText(moving)}
            </Button>
          )}
          <Box sx={{ fontSize: 12, color: 'text.secondary', mt: 1 }}>
            Every track changes by the same amount: the balance stays. Now: integrated{' '}
            {figure(figures?.integratedLufs ?? null)} LUFS, true peak {peakIsBound && '≤ '}
            {figure(figures?.truePeakDbtp ?? null)} dBTP.
          </Box>
        </Box>
      </Popover>
    </>
  );
}

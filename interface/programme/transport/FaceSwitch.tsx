'use client';

import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import { changeView, FACES, useViewSettings, type Face } from '../viewSettings';

const NAMES: Readonly<Record<Face, readonly [name: string, hint: string]>> = {
  lanes: ['Lanes', 'Tracks of clips (1)'],
  ledger: ['Ledger', 'A table of clips (2)'],
  ladder: ['Ladder', 'Clips around the horizon (3)'],
};

/** Three faces of one selection. */
export function FaceSwitch() {
  const { face } = useViewSettings();
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      aria-label="Face of the programme"
      value={face}
      onChange={(_, next: Face | null) =>
        next && changeView({ face: next, ...(next !== 'lanes' && { big: false }) })
      }
      sx={{ mx: 0.5 }}
    >
      {FACES.map((each) => (
        <ToggleButton key={each} value={each} sx={{ textTransform: 'none', px: 1, py: 0.25 }}>
          <Tooltip title={NAMES[each][1]} describeChild>
            <span>{NAMES[each][0]}</span>
          </Tooltip>
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

'use client';

import Box from '@mui/material/Box';
import Tooltip from '@mui/material/Tooltip';
import { isOver } from '@/core/check/judge';
import { amplitudeToDb } from '@/core/loudness/decibels';
import { figure } from '@/core/text/figures';
import { useProject } from '../../session/SessionContext';
import { clearHolds, usePeakHold } from './peakHolds';

/** The highest true peak heard since it was cleared; a press clears all of them. */
export function PeakHold({ of, name, ceilingDbtp }: { of: string; name: string; ceilingDbtp: number }) {
  const { truePeak, samplePeak } = usePeakHold(of);
  const { id } = useProject();
  const held = amplitudeToDb(truePeak);
  const sample = amplitudeToDb(samplePeak);
  const over = isOver(held, ceilingDbtp);
  const shown = `${figure(held)} dBTP`;
  return (
    <Tooltip
      title={`Highest true peak heard${sample === null ? '' : `; sample peak ${figure(sample)} dBFS`}. Press to clear all`}
    >
      <Box
        component="button"
        onClick={() => clearHolds(id)}
        data-peak-hold={of}
        aria-label={`${shown}: highest true peak heard of ${name}${over ? ', over the ceiling' : ''}. Clear all`}
        sx={{
          font: 'inherit',
          fontSize: 11,
          lineHeight: '16px',
          px: 0.5,
          border: 0,
          bgcolor: 'transparent',
          cursor: 'pointer',
          whiteSpace: 'nowrap',
          color: over ? 'level.over' : 'text.secondary',
          fontWeight: over ? 650 : 450,
        }}
      >
        {over && <span aria-hidden>▲ </span>}
        {shown}
      </Box>
    </Tooltip>
  );
}

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import type { Verdict } from '@/core/check/verdict';
import { count } from '@/core/text/words';
import { LevelMark } from '../ui/LevelMark';
import { Dial } from './Dial';

/** “Meets”, “misses”, or nothing to judge, with how many figures miss. */
function Outcome({ verdict, of }: { verdict: Verdict; of: string }) {
  const missing = verdict.figures.filter((entry) => entry.state === 'over' || entry.state === 'under').length;
  const text =
    verdict.meets === null
      ? verdict.leftOut > 0
        ? 'Incomplete'
        : 'Nothing to judge yet'
      : verdict.meets
        ? 'Meets the target'
        : 'Misses the target';
  const less = verdict.leftOut > 0 ? `without ${count(verdict.leftOut, 'clip')}` : of;
  const more = verdict.meets === false ? `in ${missing} of ${verdict.figures.length} figures` : less;
  return (
    <Box
      role="status"
      data-verdict={String(verdict.meets)}
      sx={{ display: 'flex', alignItems: 'center', gap: 0.75, minWidth: 182 }}
    >
      <LevelMark
        standing={verdict.meets === null ? 'unknown' : verdict.meets ? 'within' : 'over'}
        size={11}
      />
      <Box sx={{ lineHeight: 1.2 }}>
        <Box sx={{ fontWeight: 600 }}>{text}</Box>
        <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{more}</Box>
      </Box>
    </Box>
  );
}

const ROW = { display: 'flex', alignItems: 'center', flexWrap: 'wrap', columnGap: 3, rowGap: 0.5 } as const;

/** A verdict in one row: what is judged, the outcome, a dial for each figure the target limits. */
export function VerdictView({
  verdict,
  peakIsBound = false,
  isOld = false,
  of,
  before,
  after,
}: {
  verdict: Verdict;
  /** The true peak is the most it can be, not yet what it is. */
  peakIsBound?: boolean;
  /** The figures are of the state before the last change. */
  isOld?: boolean;
  of: string;
  before?: ReactNode;
  after?: ReactNode;
}) {
  return (
    <Box sx={{ ...ROW, px: 2, py: 0.75 }}>
      {before}
      <Box
        data-old={isOld}
        sx={{
          ...ROW,
          // Only where it lasts: most changes are measured before the eye has moved.
          outline: '1px dashed transparent',
          outlineOffset: 4,
          ...(isOld && { outlineColor: 'text.secondary', transition: 'outline-color 0.1s 0.2s' }),
        }}
      >
        <Outcome verdict={verdict} of={isOld ? 'before the last change' : of} />
        {verdict.figures.map((entry) => (
          <Dial key={entry.figure} verdict={entry} atMost={peakIsBound && entry.figure === 'truePeak'} />
        ))}
      </Box>
      {after}
    </Box>
  );
}

import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { OUTCOME_WORDS, whyNot, type Outcome as VerdictOutcome, type Verdict } from '@/core/check/verdict';
import { count } from '@/core/text/words';
import { LevelMark } from '../ui/LevelMark';
import { Dial } from './Dial';

const TEXTS: Readonly<Record<VerdictOutcome, string>> = {
  meets: 'Meets the target',
  misses: 'Misses the target',
  notWhole: OUTCOME_WORDS.notWhole,
  notJudged: 'Nothing to judge yet',
};

/** Why a sound cannot be certified, in a few words. */
const reasonsShort = ({ integrity, leftOut }: Verdict): string =>
  leftOut > 0 && integrity.length === 1
    ? `without ${count(leftOut, 'clip')}`
    : count(integrity.length, 'reason');

/** “Meets”, “misses”, or nothing to judge, with how many figures miss. */
function Outcome({ verdict, of }: { verdict: Verdict; of: string }) {
  const missing = verdict.figures.filter((entry) => entry.state === 'over' || entry.state === 'under').length;
  const { outcome } = verdict;
  const why = whyNot(verdict);
  const more =
    outcome === 'misses'
      ? `in ${missing} of ${verdict.figures.length} figures`
      : outcome === 'notWhole'
        ? reasonsShort(verdict)
        : of;
  return (
    <Box
      role="status"
      title={why ?? undefined}
      data-verdict={outcome}
      sx={{ display: 'flex', alignItems: 'center', gap: 0.75, minWidth: 182 }}
    >
      <LevelMark
        standing={verdict.meets === null ? 'unknown' : verdict.meets ? 'within' : 'over'}
        size={11}
      />
      <Box sx={{ lineHeight: 1.2 }}>
        <Box sx={{ fontWeight: 600 }}>{TEXTS[outcome]}</Box>
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

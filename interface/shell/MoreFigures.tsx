import Box from '@mui/material/Box';
import type { Verdict } from '@/core/check/verdict';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { WithinRanges } from '@/core/loudness/levelTrack';
import { clock, figure } from '@/core/text/figures';

const FIGURES = [
  ['maxShortTerm', 'maxShortTermLufs', 'Max short-term', 'LUFS'],
  ['maxMomentary', 'maxMomentaryLufs', 'Max momentary', 'LUFS'],
  ['loudnessRange', 'loudnessRangeLu', 'LRA', 'LU'],
] as const;

/** The figures that the target does not limit: for information. */
export function MoreFigures(props: {
  readonly verdict: Verdict;
  readonly figures: LoudnessFigures;
  readonly dialogue: WithinRanges | null;
}) {
  const { verdict, figures, dialogue } = props;
  const limited = new Set<string>(verdict.figures.map((entry) => entry.figure));
  const shown = FIGURES.filter(([id]) => !limited.has(id));
  const spoken = dialogue?.integratedLufs ?? null;
  if (shown.length === 0 && spoken === null) return null;
  return (
    <Box
      component="dl"
      aria-label="Not limited by the target"
      sx={{
        m: 0,
        display: 'grid',
        gridTemplateColumns: 'auto auto',
        columnGap: 1,
        fontSize: 11,
        lineHeight: '13px',
        color: 'text.secondary',
        whiteSpace: 'nowrap',
      }}
    >
      {shown.map(([id, key, name, unit]) => (
        <Box key={id} sx={{ display: 'contents' }}>
          <dt>{name}</dt>
          <Box component="dd" data-more-figure={id} sx={{ m: 0, textAlign: 'right' }}>
            {figure(figures[key])} {unit}
          </Box>
        </Box>
      ))}
      {dialogue && spoken !== null && (
        <Box sx={{ display: 'contents' }}>
          <dt>Dialogue ({clock(dialogue.seconds, 0)})</dt>
          <Box component="dd" data-dialogue={spoken} sx={{ m: 0, textAlign: 'right' }}>
            {figure(spoken)} LUFS
          </Box>
        </Box>
      )}
    </Box>
  );
}

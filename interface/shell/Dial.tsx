import Box from '@mui/material/Box';
import type { FigureVerdict } from '@/core/check/verdict';
import { figure } from '@/core/text/figures';
import { markPath, STANDING_COLOUR } from '../ui/LevelMark';
import { deviationWords } from '@/core/check/deviationWords';

const WIDTH = 26;
const HEIGHT = 40;
const MIDDLE = HEIGHT / 2;

/** LU or dB from the middle to the edge: enough to see the tolerance as a band, not so much that it is a line. */
const reachOf = (tolerance: number | null): number => Math.max(3, (tolerance ?? 0) * 3);

/**
 * One figure against its limit: the horizon in the middle, what is allowed as a band, the figure as a mark.
 * @param atMost the value is the most it can be
 */
export function Dial({ verdict, atMost = false }: { verdict: FigureVerdict; atMost?: boolean }) {
  const { label, unit, value, goal, tolerance, deviation, state, atLeast } = verdict;
  const reach = reachOf(tolerance);
  const toY = (distance: number): number =>
    MIDDLE - (Math.max(-reach, Math.min(reach, distance)) / reach) * (MIDDLE - 6);
  const bandTop = tolerance === null && atLeast ? 1 : toY(tolerance ?? 0);
  const bandBottom = tolerance === null && !atLeast ? HEIGHT - 1 : toY(-(tolerance ?? 0));
  const words = deviationWords(verdict);
  const goalWords =
    tolerance === null
      ? `at ${atLeast ? 'least' : 'most'} ${figure(goal)}`
      : `${figure(goal)} ±${figure(tolerance)}`;
  return (
    <Box
      role="group"
      aria-label={`${label} ${atMost ? 'at most ' : ''}${figure(value)} ${unit}, ${words}`}
      data-at-most={atMost}
      data-figure={verdict.figure}
      data-state={state}
      data-value={value ?? ''}
      sx={{ display: 'flex', alignItems: 'center', gap: 1, minWidth: 0 }}
    >
      <svg width={WIDTH} height={HEIGHT} aria-hidden style={{ flex: 'none' }}>
        <rect
          x={0.5}
          y={0.5}
          width={WIDTH - 1}
          height={HEIGHT - 1}
          rx={3}
          fill="none"
          stroke="var(--mui-palette-divider)"
        />
        <rect
          x={1}
          y={bandTop}
          width={WIDTH - 2}
          height={Math.max(2, bandBottom - bandTop)}
          fill="var(--mui-palette-sheet-band)"
        />
        <line x1={1} x2={WIDTH - 1} y1={MIDDLE} y2={MIDDLE} stroke="var(--mui-palette-sheet-horizon)" />
        {deviation !== null && (
          <path d={markPath(state, WIDTH / 2, toY(deviation), 9)} fill={STANDING_COLOUR[state]} />
        )}
      </svg>
      <Box sx={{ lineHeight: 1.15, whiteSpace: 'nowrap' }}>
        <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
          {label} <span>({goalWords})</span>
        </Box>
        <Box sx={{ fontSize: 17, fontWeight: 600 }}>
          {atMost && value !== null && '≤\u202f'}
          {figure(value)}{' '}
          <Box component="span" sx={{ fontSize: 11, fontWeight: 450, color: 'text.secondary' }}>
            {unit}
          </Box>
        </Box>
        <Box sx={{ fontSize: 11, color: STANDING_COLOUR[state] }}>{words}</Box>
      </Box>
    </Box>
  );
}

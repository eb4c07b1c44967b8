'use client';

import Box from '@mui/material/Box';
import { OUTCOME_WORDS } from '@/core/check/verdict';
import { figure } from '@/core/text/figures';
import type { ProjectSummary } from '@/storage/summaries';
import { LevelMark } from '../ui/LevelMark';

const [WIDTH, HEIGHT, REACH_LU] = [96, 24, 20];

/** A project's loudness over its length, around the horizon: up is over the target. */
function SmallSkyline({ skyline }: { skyline: ProjectSummary['skyline'] }) {
  const step = WIDTH / Math.max(1, skyline.length);
  const y = (lu: number): number =>
    HEIGHT / 2 - (Math.max(-REACH_LU, Math.min(REACH_LU, lu)) / REACH_LU) * (HEIGHT / 2 - 1);
  const path = skyline
    .map((lu, i) => (lu === null ? '' : `M${i * step} ${HEIGHT} V${y(lu)} h${step} V${HEIGHT}Z`))
    .join('');
  return (
    <svg
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label="Short-term loudness over the programme, ±20 LU around the target"
    >
      <path d={path} fill="var(--mui-palette-sheet-wave)" />
      <line
        x2={WIDTH}
        y1={HEIGHT / 2}
        y2={HEIGHT / 2}
        stroke="var(--mui-palette-sheet-horizon)"
        strokeDasharray="3 2"
      />
    </svg>
  );
}

/** How a project stood to its target when it was measured last. */
export function SummaryCell({ summary }: { summary: ProjectSummary | undefined }) {
  if (!summary) return <>—</>;
  const { outcome, integratedLufs, truePeakDbtp, skyline } = summary;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }} data-shelf-verdict={outcome}>
      <LevelMark standing={outcome === 'meets' ? 'within' : outcome === 'misses' ? 'over' : 'unknown'} />
      <Box sx={{ lineHeight: 1.25, whiteSpace: 'nowrap', minWidth: 108 }}>
        {OUTCOME_WORDS[outcome]}
        <Box sx={{ fontSize: 11.5, color: 'text.secondary' }}>
          {figure(integratedLufs)} LUFS, {figure(truePeakDbtp)} dBTP
        </Box>
      </Box>
      {skyline.length > 0 && <SmallSkyline skyline={skyline} />}
    </Box>
  );
}

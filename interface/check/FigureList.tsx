'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { memo, useMemo } from 'react';
import type { Target } from '@/core/check/target';
import type { Judged } from '@/core/check/verdict';
import { amplitudeToDb, meanSquareToLufs } from '@/core/loudness/decibels';
import { figure, withUnit } from '@/core/text/figures';
import { overRestText } from '@/core/text/overRest';
import type { CheckDetails } from '@/core/check/findings/details';
import type { DrawnLevels } from '@/engine/protocol';
import { Distribution, DISTRIBUTION_HEIGHT } from '../sources/details/Distribution';
import { Later } from '../ui/Later';
import type { Looked } from './looked';

type Line = readonly [name: string, value: string, at?: number | null];

function linesOf(judged: Judged, details: CheckDetails): Line[] {
  const { spoken, silence } = judged;
  const dc = details.dcOffset.reduce((most, one) => Math.max(most, Math.abs(one)), 0);
  return [
    ['Integrated', withUnit(judged.integratedLufs, 'LUFS')],
    ['Relative gate', withUnit(judged.relativeGateLufs, 'LUFS')],
    ['Max short-term', withUnit(judged.maxShortTermLufs, 'LUFS'), details.maxShortTermAt],
    ['Max momentary', withUnit(judged.maxMomentaryLufs, 'LUFS'), details.maxMomentaryAt],
    [
      'Loudness range',
      `${withUnit(judged.loudnessRangeLu, 'LU')}${details.rangeLowLufs === null ? '' : `, ${figure(details.rangeLowLufs)} to ${figure(details.rangeHighLufs)}`}`,
    ],
    ['True peak', withUnit(judged.truePeakDbtp, 'dBTP'), details.truePeakAt],
    ...judged.channelPeaks.map(({ label, truePeakDbtp, samplePeakDbfs }): Line => [
      `  ${label}`,
      `${withUnit(truePeakDbtp, 'dBTP')}, ${withUnit(samplePeakDbfs, 'dBFS')}`,
    ]),
    ['Sample peak', withUnit(judged.samplePeakDbfs, 'dBFS'), details.samplePeakAt],
    ['PLR', withUnit(details.peakToLoudnessLu, 'LU')],
    ['Dialogue', spoken ? withUnit(spoken.lufs, 'LUFS') : '—'],
    ['Share of dialogue', spoken ? withUnit(spoken.sharePercent, '%', 0) : '—'],
    ['Dialogue over the rest', spoken?.overRestLu == null ? '—' : overRestText(spoken.overRestLu)],
    ['Noise floor', withUnit(details.noiseFloorLufs, 'LUFS')],
    ['Correlation', details.correlation === null ? '—' : figure(details.correlation, 2)],
    ['DC offset', dc === 0 ? 'none' : withUnit(amplitudeToDb(dc), 'dBFS')],
    ['Longest silence', withUnit(silence?.longest, 's')],
    ['Silence at head, tail', `${withUnit(silence?.head, 's')}, ${withUnit(silence?.tail, 's')}`],
  ];
}

/** Every figure of the programme, limited or not, with its place. */
export const FigureList = memo(function FigureList({
  looked,
  target,
  judged,
  details,
  levels,
}: {
  looked: Pick<Looked, 'go' | 'place'>;
  target: Target;
  judged: Judged;
  details: CheckDetails;
  levels: DrawnLevels | null;
}) {
  return (
    <Box component="section" aria-label="All figures" sx={{ p: 1.5 }}>
      <Box sx={{ fontWeight: 600, mb: 0.75 }}>All figures</Box>
      <Box
        component="dl"
        sx={{
          ...{ m: 0, display: 'grid', gridTemplateColumns: '1fr auto', columnGap: 1.5, rowGap: 0.25 },
          ...{ fontSize: 12, lineHeight: '18px' },
          '& dd': { m: 0, textAlign: 'right', whiteSpace: 'nowrap' },
          '& dt': { color: 'text.secondary', whiteSpace: 'pre' },
        }}
      >
        {linesOf(judged, details).map(([name, value, at]) => (
          <Box key={name} sx={{ display: 'contents' }}>
            <dt>{name}</dt>
            <Box component="dd" data-figure-line={name.trim()}>
              {value}
              {at !== null && at !== undefined && (
                <Button
                  color="inherit"
                  aria-label={`Go to ${name.trim()}, ${looked.place(at)}`}
                  onClick={() => looked.go(at)}
                  sx={{
                    p: 0,
                    ml: 0.75,
                    minWidth: 0,
                    fontSize: 12,
                    lineHeight: '18px',
                    textDecoration: 'underline',
                  }}
                >
                  {looked.place(at)}
                </Button>
              )}
            </Box>
          </Box>
        ))}
      </Box>
      {levels && <Spread levels={levels} details={details} target={target} />}
    </Box>
  );
});

const SHARES = [10, 50, 90] as const;

/** How long it is how loud: as a picture, and as shares of the time. */
function Spread({ levels, details, target }: { levels: DrawnLevels; details: CheckDetails; target: Target }) {
  const shares = useMemo(() => {
    const sorted = Float64Array.from(levels.shortTerm).sort();
    // So much of the time it is louder than this.
    return SHARES.map((percent) =>
      meanSquareToLufs(sorted[Math.round((1 - percent / 100) * (sorted.length - 1))] ?? 0),
    );
  }, [levels]);
  return (
    <Box sx={{ mt: 2 }}>
      <Box sx={{ fontWeight: 600, mb: 0.5 }}>Time at each short-term loudness</Box>
      <Box sx={{ minHeight: DISTRIBUTION_HEIGHT }}>
        <Later>
          <Distribution
            sound={levels}
            horizon={target.integratedLufs}
            low={details.rangeLowLufs}
            high={details.rangeHighLufs}
          />
        </Later>
      </Box>
      <Box sx={{ fontSize: 11, color: 'text.secondary' }}>
        Solid: target. Dashed: between them lies the loudness range.
      </Box>
      <Box data-shares sx={{ fontSize: 12, mt: 0.5 }}>
        {SHARES.map((percent, i) => `${percent} % of the time over ${withUnit(shares[i], 'LUFS')}`).join(
          '; ',
        )}
        .
      </Box>
    </Box>
  );
}

'use client';

import Box from '@mui/material/Box';
import { useMemo } from 'react';
import { Bar, BarChart, ReferenceLine, Tooltip, XAxis, YAxis } from 'recharts';
import { loudnessDistribution } from '@/core/loudness/levelTrack';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { clock, figure } from '@/core/text/figures';

const WIDTH = 230;
/** CSS pixels. */
export const DISTRIBUTION_HEIGHT = 150;

interface Props {
  readonly sound: Pick<SoundMeasurement, 'energy' | 'sampleRate'>;
  /** LUFS. */
  readonly horizon: number;
  /** Between which the loudness range lies. */
  readonly low: number | null;
  readonly high: number | null;
}

/** How long a sound spends at each loudness. */
export function Distribution({ sound, horizon, low, high }: Props) {
  const bins = useMemo(() => {
    const { lowestLufs, seconds } = loudnessDistribution(sound);
    const all = seconds.map((time, i) => ({ lufs: lowestLufs + i + 0.5, time: Math.round(time * 10) / 10 }));
    const first = all.findIndex(({ time }) => time > 0);
    const last = all.findLastIndex(({ time }) => time > 0);
    return first < 0 ? [] : all.slice(Math.max(0, first - 1), last + 2);
  }, [sound]);
  if (bins.length === 0)
    return <Box sx={{ width: WIDTH, color: 'text.secondary' }}>Nothing over −70 LUFS.</Box>;
  const most = bins.reduce((a, b) => (b.time > a.time ? b : a));
  const words = `Most of the time, ${clock(most.time)}, near ${figure(most.lufs, 0)} LUFS; from ${figure(bins[0]!.lufs, 0)} to ${figure(bins.at(-1)!.lufs, 0)} LUFS.`;
  return (
    <Box role="img" aria-label={`Distribution of loudness. ${words}`}>
      <BarChart
        width={WIDTH}
        height={DISTRIBUTION_HEIGHT}
        data={bins}
        margin={{ top: 6, right: 6, bottom: 0, left: 0 }}
        barCategoryGap={1}
        accessibilityLayer={false}
      >
        <XAxis
          dataKey="lufs"
          type="number"
          domain={['dataMin - 1', 'dataMax + 1']}
          allowDecimals={false}
          tickFormatter={(value: number) => figure(value, 0)}
          tick={{ fontSize: 10, fill: 'var(--mui-palette-text-secondary)' }}
          stroke="var(--mui-palette-divider)"
          height={16}
          tickSize={3}
        />
        <YAxis hide />
        <Bar dataKey="time" fill="var(--mui-palette-sheet-wave)" isAnimationActive={false} />
        <ReferenceLine x={horizon} stroke="var(--mui-palette-sheet-horizon)" />
        {low !== null && (
          <ReferenceLine x={low} stroke="var(--mui-palette-text-primary)" strokeDasharray="2 2" />
        )}
        {high !== null && (
          <ReferenceLine x={high} stroke="var(--mui-palette-text-primary)" strokeDasharray="2 2" />
        )}
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: 'var(--mui-palette-divider)' }}
          content={({ payload }) => {
            const bin = payload[0]?.payload as { lufs: number; time: number } | undefined;
            return bin ? (
              <Box
                sx={{ bgcolor: 'background.paper', border: 1, borderColor: 'divider', px: 1, fontSize: 12 }}
              >
                {figure(bin.lufs - 0.5, 0)} to {figure(bin.lufs + 0.5, 0)} LUFS: {clock(bin.time)}
              </Box>
            ) : null;
          }}
        />
      </BarChart>
    </Box>
  );
}

'use client';

import Box from '@mui/material/Box';
import { useEffect, useRef } from 'react';
import { dbToAmplitude } from '@/core/loudness/decibels';
import { levelFor, type Overview } from '@/core/audio/overview';
import { useThemeMode } from '../theme/ThemeSwitch';
import { freshContext, themeColour } from './canvas';
import { columnPeaks } from './columnPeaks';
import { drawOverMark, overColumns } from './overMarks';
import { waveHeight } from './waveHeight';
import { useElementSize } from './useElementSize';

/** A sample this high stands at full scale: the largest 16-bit value. */
export const FULL_SCALE = 32767 / 32768;

/** Where lines stand across a waveform, dBFS; what shows one names them. */
export const WAVE_LINES_DBFS = [0, -20] as const;

interface Props {
  readonly overview: Overview;
  readonly truePeaks: Float32Array;
  readonly frames: number;
  readonly sampleRate: number;
  readonly height: number;
  /** The true-peak limit in force. */
  readonly limitDbtp: number;
  readonly label: string;
}

/**
 * A whole sound as a waveform, on lines at {@link WAVE_LINES_DBFS}. A bar on its upper edge: samples at full scale. A hollow mark: a true peak over the limit.
 */
export function WaveCanvas({ overview, truePeaks, frames, sampleRate, height, limitDbtp, label }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useElementSize(box);
  const mode = useThemeMode();
  useEffect(() => {
    const element = canvas.current;
    if (!element || width === 0) return;
    const context = freshContext(element, width, height);
    if (!context) return;
    const colour = themeColour(mode);
    const framesPerPixel = frames / width;
    const peaks = columnPeaks(
      levelFor(overview, framesPerPixel),
      0,
      framesPerPixel,
      Math.ceil(width),
      frames,
    );
    const floor = height - 1;
    const most = height - 6;
    context.fillStyle = colour('sheet-wave');
    peaks.forEach((peak, x) => {
      const h = waveHeight(peak, most);
      context.fillRect(x, floor - h, 1, h);
    });
    context.fillStyle = colour('text-secondary');
    context.globalAlpha = 0.4;
    for (const dbfs of WAVE_LINES_DBFS)
      context.fillRect(0, Math.round(floor - waveHeight(dbToAmplitude(dbfs), most)), width, 1);
    context.globalAlpha = 1;
    context.fillStyle = colour('level-over');
    peaks.forEach((peak, x) => {
      if (peak >= FULL_SCALE) context.fillRect(x - 0.5, 0, 2, 5);
    });
    context.strokeStyle = colour('level-over');
    const pixelsPerSecond = (width * sampleRate) / frames;
    const spec = { truePeaks, limitDbtp, first: 0, pixelsPerSecond, columns: Math.ceil(width) };
    for (const x of overColumns(spec)) drawOverMark(context, x, 0.5);
  }, [overview, truePeaks, sampleRate, frames, width, height, limitDbtp, mode]);
  return (
    <Box ref={box} sx={{ width: '100%', minWidth: 0 }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={label}
        style={{ display: 'block', width: '100%', height }}
      />
    </Box>
  );
}

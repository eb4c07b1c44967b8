'use client';

import { memo, useEffect, useRef } from 'react';
import { levelFor } from '@/core/audio/overview';
import { dbToAmplitude } from '@/core/loudness/decibels';
import type { Clip, Source } from '@/core/programme/model';
import { fadeAt } from '@/core/render/fades';
import type { ClipMeasurement } from '@/core/render/measureClip';
import { PEAK_BLOCKS_PER_SECOND } from '@/core/loudness/subBlocks';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { freshContext, themeColour } from '../parts/canvas';
import { columnPeaks } from '../parts/columnPeaks';
import { drawOverMark, overColumns } from '../parts/overMarks';
import { FULL_SCALE } from '../parts/WaveCanvas';
import { useThemeMode } from '../theme/ThemeSwitch';
import { waveHeight } from '../parts/waveHeight';
import { bodyHeight, HEAD_WIDTH, NAME_STRIP } from './laneScale';

/** A clip with all that its drawing needs. */
export interface DrawnClip {
  readonly clip: Clip;
  readonly source: Source | undefined;
  readonly overview: SoundMeasurement | undefined;
  /** The gain with which it sounds: its own, its trim and its track's, dB. */
  readonly totalDb: number;
  /** Before its own gain. */
  readonly measurement: ClipMeasurement | null;
  /** Its sound is not in this browser. */
  readonly missing: boolean;
}

interface Props {
  readonly clips: readonly DrawnClip[];
  readonly sampleRate: number;
  readonly ceilingDbtp: number;
  readonly pixelsPerSecond: number;
  readonly scrollLeft: number;
  readonly width: number;
  readonly height: number;
}

/** The fades as they rise from and fall to silence, from the foot of the lane to under the clip's name. */
function drawFades(
  context: CanvasRenderingContext2D,
  colour: string,
  { fadeIn, fadeOut }: Clip,
  left: number,
  right: number,
  pixelsPerFrame: number,
  height: number,
): void {
  const draw = (from: number, frames: number, direction: 1 | -1): void => {
    const length = frames * pixelsPerFrame;
    if (length < 2) return;
    context.beginPath();
    for (let part = 0; part <= 1; part += 1 / 16) {
      const y = height - fadeAt(part) * (height - NAME_STRIP);
      if (part === 0) context.moveTo(from, y);
      else context.lineTo(from + direction * part * length, y);
    }
    context.stroke();
  };
  context.strokeStyle = colour;
  context.lineWidth = 1;
  draw(left, fadeIn, 1);
  draw(right, fadeOut, -1);
}

function drawClip(
  context: CanvasRenderingContext2D,
  colour: (name: string) => string,
  props: Props,
  drawn: DrawnClip,
): void {
  const { clip, source, overview, measurement } = drawn;
  if (!source || !overview) return;
  const { sampleRate, pixelsPerSecond, scrollLeft, width, height, ceilingDbtp } = props;
  const left = (clip.start / sampleRate) * pixelsPerSecond - scrollLeft;
  const right = left + (clip.length / sampleRate) * pixelsPerSecond;
  const from = Math.max(0, Math.floor(left));
  const to = Math.min(Math.ceil(width), Math.ceil(right));
  if (to <= from) return;
  const gain = dbToAmplitude(drawn.totalDb);
  const framesPerPixel = source.sampleRate / pixelsPerSecond;
  const offset = (clip.sourceStart / sampleRate) * source.sampleRate + (from - left) * framesPerPixel;
  const level = levelFor(overview.overview, framesPerPixel);
  const peaks = columnPeaks(level, offset, framesPerPixel, to - from, source.frames);
  context.fillStyle = colour('sheet-wave');
  for (let i = 0; i < peaks.length; i++) {
    const h = waveHeight(peaks[i]! * gain, bodyHeight(height) - 8);
    context.fillRect(from + i, height - h, 1, h);
  }
  context.fillStyle = colour('level-over');
  for (let i = 0; i < peaks.length; i++) {
    // Recorded at full scale already, or brought past it by the gain: samples are lost or would be.
    if (peaks[i]! >= FULL_SCALE || peaks[i]! * gain > 1)
      context.fillRect(from + i - 0.5, NAME_STRIP + 1, 2, 6);
  }
  drawFades(context, colour('text-secondary'), clip, left, right, pixelsPerSecond / sampleRate, height);
  if (!measurement) return;
  context.strokeStyle = colour('level-over');
  const spec = {
    truePeaks: measurement.truePeaks,
    limit: dbToAmplitude(ceilingDbtp - clip.gain.db),
    first: ((from - left) / pixelsPerSecond) * PEAK_BLOCKS_PER_SECOND,
    pixelsPerSecond,
    columns: to - from,
  };
  for (const column of overColumns(spec)) drawOverMark(context, from + column, NAME_STRIP + 8.5);
}

function same(a: Props, b: Props): boolean {
  return (
    a.sampleRate === b.sampleRate &&
    a.ceilingDbtp === b.ceilingDbtp &&
    a.pixelsPerSecond === b.pixelsPerSecond &&
    a.scrollLeft === b.scrollLeft &&
    a.width === b.width &&
    a.height === b.height &&
    a.clips.length === b.clips.length &&
    a.clips.every((drawn, i) => {
      const other = b.clips[i]!;
      return (
        drawn.clip === other.clip &&
        drawn.totalDb === other.totalDb &&
        drawn.overview === other.overview &&
        drawn.measurement === other.measurement
      );
    })
  );
}

/** The waveforms of one lane's visible clips, with their overs; drawn again only when one of them changed. */
export const LaneCanvas = memo(function LaneCanvas(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const mode = useThemeMode();
  useEffect(() => {
    const element = canvas.current;
    if (!element || props.width <= 0) return;
    const context = freshContext(element, props.width, props.height);
    if (!context) return;
    const colour = themeColour(element);
    for (const drawn of props.clips) drawClip(context, colour, props, drawn);
  }, [props, mode]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      style={{
        position: 'sticky',
        left: HEAD_WIDTH,
        display: 'block',
        width: props.width,
        height: props.height,
        pointerEvents: 'none',
      }}
    />
  );
}, same);

'use client';

import Box from '@mui/material/Box';
import { useEffect, useMemo, useRef } from 'react';
import { meanSquareToLufs } from '@/core/loudness/decibels';
import type { TimeRange } from '@/core/loudness/levelTrack';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { everyHop, momentaryWindows, shortTermWindows } from '@/core/loudness/windows';
import { clock, signed } from '@/core/text/figures';
import { useGesture } from '../../editing/useGesture';
import { freshContext, themeColour } from '../../ui/canvas';
import { levelScale, levelTicks } from '../../ui/levelScale';
import { tickStep } from '../../ui/tickStep';
import { useElementSize } from '../../ui/useElementSize';
import { useThemeMode } from '../../theme/ThemeSwitch';

const HEIGHT = 150;
const TICKS = 16;
const BODY = HEIGHT - TICKS;
const LOWEST_LU = -30;
const HOP_SECONDS = 0.1;
const MOMENTARY_MIDDLE = 0.2;
const SHORT_TERM_MIDDLE = 1.5;
/** About how many lines the scale has. */
const LINES = 4;
/** Pixels under which a press is no drag. */
const CLICK = 3;

interface Props {
  readonly name: string;
  readonly sound: SoundMeasurement;
  readonly seconds: number;
  /** LUFS. */
  readonly horizon: number;
  /** Places at full scale or where sound drops out, seconds. */
  readonly marks: readonly number[];
  readonly part: TimeRange | null;
  /** @param moving it is still being dragged */
  readonly onPart: (part: TimeRange | null, moving: boolean) => void;
  /** Where it is heard now, seconds; `null` when it is not. */
  readonly position: () => number | null;
  readonly playing: boolean;
}

/** The largest value under each pixel column, as loudness; NaN where there is none. */
function columns(series: Float64Array, middle: number, seconds: number, width: number): Float64Array {
  const perPixel = seconds / width;
  const at = (time: number): number => Math.round((time - middle) / HOP_SECONDS);
  return Float64Array.from({ length: width }, (_, x) => {
    const from = Math.max(0, at(x * perPixel));
    const to = Math.min(series.length - 1, Math.max(at((x + 1) * perPixel) - 1, at(x * perPixel)));
    let most = 0;
    for (let j = from; j <= to; j++) most = Math.max(most, series[j]!);
    return meanSquareToLufs(most) ?? NaN;
  });
}

/** A source's loudness over time against the horizon: momentary as a surface, short-term as a line. A drag chooses a part. */
export function LevelTrace({ name, sound, seconds, horizon, marks, part, onPart, position, playing }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const { width } = useElementSize(box);
  const mode = useThemeMode();
  const series = useMemo(
    () => ({
      momentary: everyHop(momentaryWindows(sound.energy, sound.sampleRate)),
      shortTerm: everyHop(shortTermWindows(sound.energy, sound.sampleRate)),
    }),
    [sound],
  );

  useEffect(() => {
    const element = canvas.current;
    if (!element || width === 0) return;
    const context = freshContext(element, width, HEIGHT);
    if (!context) return;
    const colour = themeColour(mode);
    const columnCount = Math.ceil(width);
    const momentary = columns(series.momentary, MOMENTARY_MIDDLE, seconds, columnCount);
    const shortTerm = columns(series.shortTerm, SHORT_TERM_MIDDLE, seconds, columnCount);
    const loudest = (sound.figures.maxMomentaryLufs ?? horizon) - horizon;
    const top = Math.max(8, loudest + 2);
    const levels = levelScale(top, LOWEST_LU, BODY);
    const y = (lufs: number): number => levels(lufs - horizon);
    context.fillStyle = colour('sheet-wave');
    momentary.forEach((lufs, x) => {
      if (lufs > horizon + LOWEST_LU) context.fillRect(x, y(lufs), 1, BODY - y(lufs));
    });
    context.font = '10px "Inter Variable", sans-serif';
    for (const lu of levelTicks(levels, LINES)) {
      const at = Math.round(y(horizon + lu)) + 0.5;
      context.strokeStyle = colour(lu === 0 ? 'sheet-horizon' : 'divider');
      context.beginPath();
      context.moveTo(0, at);
      context.lineTo(width, at);
      context.stroke();
      const label = lu === 0 ? 'target' : `${signed(lu, 0)} LU`;
      // A halo keeps the words legible where they lie over the surface.
      context.strokeStyle = colour('background-default');
      context.lineWidth = 3;
      context.strokeText(label, 4, at - 3);
      context.lineWidth = 1;
      context.fillStyle = colour('text-primary');
      context.fillText(label, 4, at - 3);
    }
    context.strokeStyle = colour('text-primary');
    context.lineWidth = 1.5;
    context.beginPath();
    let drawing = false;
    shortTerm.forEach((lufs, x) => {
      if (Number.isNaN(lufs) || lufs < horizon + LOWEST_LU) drawing = false;
      else if (drawing) context.lineTo(x, y(lufs));
      else {
        context.moveTo(x, y(lufs));
        drawing = true;
      }
    });
    context.stroke();
    context.fillStyle = colour('level-over');
    for (const mark of marks) context.fillRect(Math.round((mark / seconds) * width) - 1, 0, 2, 6);
    context.fillStyle = colour('text-secondary');
    const step = tickStep(width / seconds);
    for (let time = 0; time < seconds; time += step) {
      const x = Math.round((time / seconds) * width);
      context.fillRect(x, BODY, 1, 4);
      if (x < width - 36) context.fillText(clock(time, step < 1 ? 1 : 0), x + 4, HEIGHT - 4);
    }
  }, [series, sound, seconds, horizon, marks, width, mode]);

  useEffect(() => {
    let request = 0;
    const draw = (): void => {
      const at = position();
      if (head.current) {
        head.current.style.display = at === null ? 'none' : 'block';
        head.current.style.transform = `translateX(${((at ?? 0) / seconds) * width}px)`;
      }
      if (playing) request = requestAnimationFrame(draw);
    };
    draw();
    return () => cancelAnimationFrame(request);
  }, [playing, position, seconds, width]);

  const bind = useGesture((event) => {
    const { left } = event.currentTarget.getBoundingClientRect();
    const timeAt = (x: number): number => Math.max(0, Math.min(seconds, ((x - left) / width) * seconds));
    const start = event.clientX;
    let dragged: TimeRange | null = null;
    onPart(null, false);
    return {
      move: ({ clientX }) => {
        if (!dragged && Math.abs(clientX - start) < CLICK) return;
        const ends = [timeAt(start), timeAt(clientX)];
        dragged = { from: Math.min(...ends), to: Math.max(...ends) };
        onPart(dragged, true);
      },
      finish: () => dragged && onPart(dragged, false),
      cancel: () => onPart(part, false),
    };
  });
  return (
    <Box
      ref={box}
      data-level-trace
      {...bind()}
      sx={{ position: 'relative', width: '100%', minWidth: 0, cursor: 'text', touchAction: 'none' }}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Loudness of ${name} over time: momentary as a surface, short-term as a line`}
        style={{ display: 'block', width: '100%', height: HEIGHT }}
      />
      {part && (
        <Box
          aria-hidden
          sx={{
            position: 'absolute',
            top: 0,
            height: BODY,
            bgcolor: 'primary.main',
            opacity: 0.18,
            pointerEvents: 'none',
          }}
          style={{
            left: `${(part.from / seconds) * 100}%`,
            width: `${((part.to - part.from) / seconds) * 100}%`,
          }}
        />
      )}
      <Box
        ref={head}
        aria-hidden
        sx={{
          position: 'absolute',
          top: 0,
          left: 0,
          width: 1.5,
          height: BODY,
          bgcolor: 'text.primary',
          pointerEvents: 'none',
          display: 'none',
        }}
      />
    </Box>
  );
}

'use client';

import Box from '@mui/material/Box';
import { useCallback, useEffect, useMemo, useRef, type KeyboardEvent } from 'react';
import { meanSquareToLufs } from '@/core/loudness/decibels';
import { programmeFrames } from '@/core/programme/model';
import { OF_PROGRAMME } from '@/core/signal/mix';
import { placeText } from '@/core/programme/timeText';
import { placesOverLimits } from '@/core/check/findings/overLimits';
import { clock, figure } from '@/core/text/figures';
import { useGesture } from '../editing/useGesture';
import { freshContext, themeColour } from '../ui/canvas';
import { levelScale, levelTicks } from '../ui/levelScale';
import { drawOverMark } from '../ui/overMarks';
import { drawReduction } from '../ui/reductionBars';
import { useElementSize } from '../ui/useElementSize';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { useThemeMode } from '../theme/ThemeSwitch';
import { LANE_BOTTOM_LU, LANE_TOP_LU } from './lanes/laneScale';
import type { LaneView } from './lanes/useLaneView';
import { usePlayhead } from './usePlayhead';

/** Its height, CSS pixels. */
export const SKYLINE_HEIGHT = 78;
const HEIGHT = SKYLINE_HEIGHT;
/** About how many lines the scale has. */
const LINES = 4;
/** A short-term window is 3 s; it is drawn at its middle. */
const WINDOW_MIDDLE_SECONDS = 1.5;
const HOP_SECONDS = 0.1;
/** LU kept free over the loudest place. */
const HEADROOM_LU = 2;

/** The whole programme's short-term loudness against the horizon; a click or the arrow keys move the playhead. */
export function Skyline({
  view,
  marked = null,
}: {
  /** What the lanes show of it; `null` where there are none. */
  view: LaneView | null;
  /** A place that is pointed out, seconds. */
  marked?: { readonly from: number; readonly to: number } | null;
}) {
  const session = useSession();
  const project = useProject();
  const programme = useSessionState((state) => state.programme);
  const moved = useSessionState((state) => state.moved);
  const playhead = useSessionState((state) => state.playhead);
  const range = useSessionState((state) => state.range);
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const line = useRef<HTMLDivElement>(null);
  const { width } = useElementSize(box);
  const mode = useThemeMode();
  const { target, sampleRate } = project;
  const seconds = programmeFrames(project) / sampleRate;

  const findings = useMemo(() => (programme ? placesOverLimits(programme, target) : []), [programme, target]);

  useEffect(() => {
    const element = canvas.current;
    if (!element || width === 0) return;
    const context = freshContext(element, width, HEIGHT);
    if (!context) return;
    const colour = themeColour(mode);
    // A programme far over its target is drawn whole: the scale reaches up to its loudest place.
    const figures = moved ?? programme?.figures;
    const loudest = figures?.maxShortTermLufs ?? target.integratedLufs;
    const scaleTop = Math.max(LANE_TOP_LU, loudest - target.integratedLufs + HEADROOM_LU);
    const y = levelScale(scaleTop, LANE_BOTTOM_LU, HEIGHT);
    const ticks = levelTicks(y, LINES);
    const line = (lu: number): void => {
      const at = Math.round(y(lu)) + 0.5;
      context.beginPath();
      context.moveTo(0, at);
      context.lineTo(width, at);
      context.stroke();
    };
    context.fillStyle = colour('sheet-band');
    context.fillRect(
      0,
      y(target.toleranceLu),
      width,
      Math.max(2, y(-target.toleranceLu) - y(target.toleranceLu)),
    );
    context.font = '9.5px "Inter Variable", sans-serif';
    if (programme && programme.lengthSeconds > 0) {
      const perPixel = programme.lengthSeconds / width;
      context.fillStyle = colour('sheet-wave');
      // While something moves, what it touches is drawn as it would be.
      const at = (j: number): number =>
        moved?.shortTerm.values[j - moved.shortTerm.first] ?? programme.shortTerm[j]!;
      for (let x = 0; x < width; x++) {
        const index = (time: number): number => Math.floor((time - WINDOW_MIDDLE_SECONDS) / HOP_SECONDS);
        const from = Math.max(0, Math.min(programme.shortTerm.length - 1, index(x * perPixel)));
        const to = Math.min(programme.shortTerm.length - 1, Math.max(from, index((x + 1) * perPixel)));
        let z = 0;
        for (let j = from; j <= to; j++) z = Math.max(z, at(j));
        const lufs = meanSquareToLufs(z);
        if (lufs === null) continue;
        const top = y(lufs - target.integratedLufs);
        context.fillRect(x, top, 1, HEIGHT - top);
      }
      const integratedLufs = figures?.integratedLufs ?? null;
      if (integratedLufs !== null) {
        context.strokeStyle = colour('text-primary');
        context.lineWidth = 1.5;
        line(integratedLufs - target.integratedLufs);
      }
    }
    context.strokeStyle = colour('sheet-horizon');
    context.lineWidth = 1;
    context.setLineDash([4, 3]);
    line(0);
    context.setLineDash([1, 5]);
    for (const lu of ticks) if (lu !== 0) line(lu);
    context.setLineDash([]);
    context.fillStyle = colour('text-secondary');
    for (const lu of ticks) {
      context.fillText(figure(target.integratedLufs + lu, 0), 3, y(lu) + 9.5);
    }
    const limiter = programme?.reductions.get(OF_PROGRAMME);
    if (programme && limiter) {
      const perSecond = width / Math.max(1e-9, programme.lengthSeconds);
      drawReduction(context, colour, limiter, (at) => at * perSecond, [0, programme.lengthSeconds], 11);
    }
    // What breaks a limit is marked at any length: hollow triangles for true peaks, bars for loudness.
    const scale = width / Math.max(1e-9, programme?.lengthSeconds ?? 0);
    context.setLineDash([]);
    context.strokeStyle = colour('level-over');
    context.fillStyle = colour('level-over');
    let last = -Infinity;
    for (const { kind, from, to } of findings) {
      const x = from * scale;
      if (kind !== 'truePeak') context.fillRect(x, 8, Math.max(2, (to - from) * scale), 2);
      else if (x - last >= 7) {
        drawOverMark(context, Math.max(3, x), 1.5);
        last = x;
      }
    }
  }, [programme, moved, findings, target, width, mode]);

  usePlayhead(
    line,
    useCallback(
      (element, frame) => {
        element.style.transform = `translateX(${seconds > 0 ? (frame / sampleRate / seconds) * width : 0}px)`;
      },
      [sampleRate, seconds, width],
    ),
  );

  const seekTo = (at: number, scrubbing = false): void => {
    if (scrubbing) session.listening.scrub(at * sampleRate);
    else session.listening.seek(at * sampleRate);
    view?.reveal(at, at);
  };
  const bind = useGesture((event) => {
    const rect = event.currentTarget.getBoundingClientRect();
    const at = (x: number): number => ((x - rect.left) / rect.width) * seconds;
    seekTo(at(event.clientX));
    return {
      move: ({ clientX }) => seekTo(at(clientX), true),
      finish: () => undefined,
      cancel: () => seekTo(playhead / sampleRate),
    };
  });
  const onKey = (event: KeyboardEvent): void => {
    const now = playhead / sampleRate;
    const to = {
      ArrowLeft: now - 1,
      ArrowRight: now + 1,
      PageDown: now - 10,
      PageUp: now + 10,
      Home: 0,
      End: seconds,
    }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    seekTo(Math.max(0, Math.min(seconds, to)));
  };
  const bracketLeft = view && seconds > 0 ? (view.scrollLeft / view.pixelsPerSecond / seconds) * width : 0;
  const bracketWidth = view && seconds > 0 ? (view.width / view.pixelsPerSecond / seconds) * width : width;
  const integrated = (moved ?? programme?.figures)?.integratedLufs ?? null;
  return (
    <Box sx={{ flex: 1, minWidth: 0 }}>
      <Box
        sx={{
          ...{ display: 'flex', gap: 2, fontSize: 11, color: 'text.secondary', lineHeight: '16px' },
          ...{ whiteSpace: 'nowrap', overflow: 'hidden' },
        }}
      >
        <span>Short-term loudness of the whole programme</span>
        <span>┄ target {figure(target.integratedLufs)} LUFS</span>
        <span>— integrated {figure(integrated)} LUFS</span>
        <Box component="span" sx={{ ml: 'auto' }} data-findings={findings.length}>
          {findings.length > 0 && `${count(findings.length, 'place')} over a limit (△, ▬) · `}
          {clock(seconds)}
        </Box>
      </Box>
      <Box
        ref={box}
        role="slider"
        tabIndex={0}
        aria-label="Playhead in the programme"
        aria-valuemin={0}
        aria-valuemax={Math.max(0.1, Number(seconds.toFixed(1)))}
        aria-valuenow={Number((playhead / sampleRate).toFixed(1))}
        aria-valuetext={placeText(project, playhead)}
        {...bind()}
        onKeyDown={onKey}
        sx={{
          position: 'relative',
          height: HEIGHT,
          bgcolor: 'sheet.lane',
          overflow: 'hidden',
          cursor: 'text',
          touchAction: 'none',
        }}
      >
        <canvas ref={canvas} aria-hidden style={{ display: 'block', width: '100%', height: HEIGHT }} />
        {range && seconds > 0 && (
          <Box
            aria-hidden
            sx={{
              position: 'absolute',
              top: 0,
              bottom: 0,
              borderLeft: 1,
              borderRight: 1,
              borderColor: 'primary.main',
              bgcolor: 'color-mix(in srgb, var(--mui-palette-primary-main) 12%, transparent)',
              pointerEvents: 'none',
            }}
            style={{
              left: (range.from / sampleRate / seconds) * width,
              width: Math.max(1, ((range.to - range.from) / sampleRate / seconds) * width),
            }}
          />
        )}
        {marked && seconds > 0 && (
          <Box
            aria-hidden
            data-marked
            sx={{
              ...{ position: 'absolute', top: 0, bottom: 0, pointerEvents: 'none' },
              ...{ border: '2px solid', borderColor: 'primary.main', borderRadius: 0.5 },
            }}
            style={{
              left: Math.max(0, (marked.from / seconds) * width - 2),
              width: Math.max(5, ((marked.to - marked.from) / seconds) * width + 4),
            }}
          />
        )}
        {bracketWidth < width - 2 && (
          <Box
            sx={{
              position: 'absolute',
              top: 0,
              bottom: 0,
              border: '1.5px solid',
              borderColor: 'text.secondary',
              borderRadius: 0.5,
              pointerEvents: 'none',
            }}
            style={{ left: bracketLeft, width: Math.max(4, bracketWidth) }}
          />
        )}
        <Box
          ref={line}
          aria-hidden
          sx={{
            position: 'absolute',
            left: 0,
            top: 0,
            bottom: 0,
            width: '1px',
            bgcolor: 'text.primary',
            pointerEvents: 'none',
          }}
        />
      </Box>
    </Box>
  );
}

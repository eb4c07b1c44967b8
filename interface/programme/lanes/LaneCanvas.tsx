'use client';

import { memo, useEffect, useRef } from 'react';
import type { CurvePoint, Id } from '@/core/programme/model';
import { freshContext, themeColour } from '../../ui/canvas';
import { useThemeMode } from '../../theme/ThemeSwitch';
import { drawReduction } from '../../ui/reductionBars';
import { NAME_STRIP } from './laneScale';
import { drawClip, type LaneDrawing } from './drawClip';
import { drawTrackCurve } from './drawTrackCurve';
import { isSmall, type DrawnClip } from './useVisible';

interface Props extends LaneDrawing {
  readonly clips: readonly DrawnClip[];
  readonly selection: ReadonlySet<Id>;
  readonly trackId: Id;
  /** Gain over time of the track. */
  readonly trackCurve: readonly CurvePoint[];
  /** Of the track heads, CSS pixels. */
  readonly headWidth: number;
}

const DRAWING = [
  'sampleRate',
  'target',
  'pixelsPerSecond',
  'scrollLeft',
  'width',
  'height',
  'mirrored',
  'loudness',
  'points',
  'reductions',
] as const satisfies readonly (keyof LaneDrawing)[];

function same(a: Props, b: Props): boolean {
  const pixelsPerFrame = b.pixelsPerSecond / b.sampleRate;
  return (
    DRAWING.every((key) => a[key] === b[key]) &&
    a.headWidth === b.headWidth &&
    a.trackCurve === b.trackCurve &&
    a.clips.length === b.clips.length &&
    a.clips.every((drawn, i) => {
      const other = b.clips[i]!;
      return (
        drawn.clip === other.clip &&
        drawn.totalDb === other.totalDb &&
        drawn.overview === other.overview &&
        drawn.measurement === other.measurement &&
        drawn.source === other.source &&
        // Only what is no more than drawn, or has points or speech to drag, shows here that it is selected.
        ((!isSmall(drawn.clip, pixelsPerFrame) && drawn.clip.curve.length === 0 && !drawn.source?.speech) ||
          a.selection.has(drawn.clip.id) === b.selection.has(drawn.clip.id))
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
    const colour = themeColour(mode);
    for (const drawn of props.clips)
      drawClip(context, colour, drawn, props, props.selection.has(drawn.clip.id));
    const { trackId } = props;
    drawTrackCurve(context, colour, trackId, props.trackCurve, props);
    const { reductions, scrollLeft, width, pixelsPerSecond } = props;
    const track = reductions?.get(trackId);
    if (!track) return;
    const seen = [scrollLeft / pixelsPerSecond, (scrollLeft + width) / pixelsPerSecond] as const;
    drawReduction(context, colour, track, (at) => at * pixelsPerSecond - scrollLeft, seen, NAME_STRIP);
  }, [props, mode]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      style={{
        position: 'sticky',
        left: props.headWidth,
        display: 'block',
        width: props.width,
        height: props.height,
        pointerEvents: 'none',
      }}
    />
  );
}, same);

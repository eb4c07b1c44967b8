'use client';

import { memo, useEffect, useRef } from 'react';
import type { CurvePoint, Id } from '@/core/programme/model';
import { freshContext, themeColour } from '../../ui/canvas';
import { useFonts } from '../../ui/canvasText';
import { useThemeMode } from '../../theme/ThemeSwitch';
import { drawReduction } from '../../ui/reductionBars';
import { NAME_STRIP } from './laneScale';
import type { HotClip } from './clipHits';
import { drawClip } from './drawClip';
import type { LaneDrawing } from './laneDrawing';
import { drawTrackCurve } from './drawTrackCurve';
import type { DrawnClip } from './useVisible';

interface Props extends LaneDrawing {
  readonly clips: readonly DrawnClip[];
  readonly selection: ReadonlySet<Id>;
  readonly trackId: Id;
  /** Gain over time of the track. */
  readonly trackCurve: readonly CurvePoint[];
  /** The clip the pointer is on, and by which edge, where it is one of these. */
  readonly hot: HotClip | null;
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
  return (
    DRAWING.every((key) => a[key] === b[key]) &&
    a.headWidth === b.headWidth &&
    a.trackCurve === b.trackCurve &&
    a.hot === b.hot &&
    a.clips.length === b.clips.length &&
    a.clips.every((drawn, i) => {
      const other = b.clips[i]!;
      return (
        drawn.clip === other.clip &&
        drawn.totalDb === other.totalDb &&
        drawn.overview === other.overview &&
        drawn.measurement === other.measurement &&
        drawn.source === other.source &&
        drawn.missing === other.missing &&
        drawn.groupName === other.groupName &&
        a.selection.has(drawn.clip.id) === b.selection.has(drawn.clip.id)
      );
    })
  );
}

/** The visible clips of one lane, with all that is seen of them; drawn again only when one of them changed. */
export const LaneCanvas = memo(function LaneCanvas(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const mode = useThemeMode();
  const fonts = useFonts();
  useEffect(() => {
    const element = canvas.current;
    if (!element || props.width <= 0) return;
    const context = freshContext(element, props.width, props.height);
    if (!context) return;
    const colour = themeColour(mode);
    const { hot, selection } = props;
    for (const drawn of props.clips) {
      const isHot = hot?.clipId === drawn.clip.id;
      const shown = { selected: selection.has(drawn.clip.id), hot: isHot, hotEdge: isHot ? hot.edge : null };
      drawClip(context, colour, drawn, props, shown);
    }
    const { trackId } = props;
    drawTrackCurve(context, colour, trackId, props.trackCurve, props);
    const { reductions, scrollLeft, width, pixelsPerSecond } = props;
    const track = reductions?.get(trackId);
    if (!track) return;
    const seen = [scrollLeft / pixelsPerSecond, (scrollLeft + width) / pixelsPerSecond] as const;
    drawReduction(context, colour, track, (at) => at * pixelsPerSecond - scrollLeft, seen, NAME_STRIP);
  }, [props, mode, fonts]);
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

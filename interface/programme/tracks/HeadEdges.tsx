'use client';

import Box from '@mui/material/Box';
import type { KeyboardEvent } from 'react';
import type { Id } from '@/core/programme/model';
import { useGesture } from '../../editing/useGesture';
import {
  changeView,
  HEAD_WIDTHS,
  LANE_FACTORS,
  viewNow,
  useViewSettings,
  USUAL_HEAD_WIDTH,
} from '../viewSettings';

/** By one press of a key, CSS pixels. */
const STEP = 10;

const within = (value: number, [least, most]: readonly [number, number]): number =>
  Math.max(least, Math.min(most, value));

const setWidth = (width: number): void => changeView({ headWidth: within(Math.round(width), HEAD_WIDTHS) });

/** Sets the height of one lane. @param factor of what it takes by itself; `null`: that */
export function setLaneHeight(trackId: Id, factor: number | null): void {
  const laneHeights = { ...viewNow().laneHeights };
  if (factor === null) delete laneHeights[trackId];
  else laneHeights[trackId] = within(factor, LANE_FACTORS);
  changeView({ laneHeights });
}

const EDGE = {
  position: 'absolute',
  touchAction: 'none',
  zIndex: 1,
  '&:hover, &:focus-visible': { bgcolor: 'primary.main', opacity: 0.5 },
} as const;

/** The right edge of the track heads: dragged, or moved by arrow keys; a double click resets it. */
export function WidthEdge({ reachable = false }: { reachable?: boolean }) {
  const { headWidth } = useViewSettings();
  const bind = useGesture((event) => {
    event.stopPropagation();
    event.preventDefault();
    const x = event.clientX;
    return {
      move: ({ clientX }) => setWidth(headWidth + clientX - x),
      finish: () => undefined,
      cancel: () => changeView({ headWidth }),
    };
  });
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    setWidth(headWidth + by);
  };
  return (
    <Box
      {...bind()}
      {...(reachable
        ? {
            role: 'separator',
            tabIndex: 0,
            'aria-orientation': 'vertical',
            'aria-label': 'Width of the track heads',
            'aria-valuenow': headWidth,
            'aria-valuemin': HEAD_WIDTHS[0],
            'aria-valuemax': HEAD_WIDTHS[1],
          }
        : { 'aria-hidden': true })}
      data-head-edge="width"
      onDoubleClick={() => setWidth(USUAL_HEAD_WIDTH)}
      onKeyDown={onKeyDown}
      sx={{ ...EDGE, top: 0, bottom: 0, right: -3, width: 6, cursor: 'col-resize' }}
    />
  );
}

/** The lower edge of a track's head: dragged, it sets the height of its lane; a double click resets it. By keys: its menu. */
export function HeightEdge({ trackId, laneHeight }: { trackId: Id; laneHeight: number }) {
  const bind = useGesture((event) => {
    event.stopPropagation();
    event.preventDefault();
    const before = viewNow().laneHeights[trackId] ?? null;
    const own = laneHeight / (before ?? 1);
    const y = event.clientY;
    return {
      move: ({ clientY }) => setLaneHeight(trackId, (laneHeight + clientY - y) / own),
      finish: () => undefined,
      cancel: () => setLaneHeight(trackId, before),
    };
  });
  return (
    <Box
      {...bind()}
      aria-hidden
      data-head-edge="height"
      onDoubleClick={() => setLaneHeight(trackId, null)}
      sx={{ ...EDGE, left: 0, right: 0, bottom: -3, height: 6, cursor: 'row-resize' }}
    />
  );
}

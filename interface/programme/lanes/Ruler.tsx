'use client';

import Box from '@mui/material/Box';
import type { CSSProperties } from 'react';
import { placeText } from '@/core/programme/timeText';
import { useGesture, type Gesture } from '../../editing/useGesture';
import { tickStep } from '../../ui/tickStep';
import { useProject, useSession } from '../../session/SessionContext';
import { RULER_HEIGHT, START_DISTANCE } from './laneScale';
import { WidthEdge } from '../tracks/HeadEdges';
import { MarkerFlags } from './MarkerFlags';
import type { SessionState } from '../../session/state';
import type { Session } from '../../session/session';
import { SnapEdges } from './snapEdges';
import type { LaneView } from './useLaneView';

/** Drags out a range, which snaps; a press in one place moves the playhead. */
class RangeGesture implements Gesture {
  private readonly edges: SnapEdges;
  private readonly before: Pick<SessionState, 'range' | 'looping'>;
  private started = false;

  constructor(
    private readonly session: Session,
    private readonly startX: number,
    private readonly left: number,
    private readonly framesPerPixel: number,
  ) {
    this.edges = new SnapEdges(session, new Set(), framesPerPixel);
    this.before = session.state;
  }

  private at(x: number): number {
    const frame = (x - this.left) * this.framesPerPixel;
    return frame + this.edges.pull(frame);
  }

  move({ clientX }: PointerEvent): void {
    this.started ||= Math.abs(clientX - this.startX) >= START_DISTANCE;
    if (this.started) this.session.listening.setRange(this.at(this.startX), this.at(clientX));
  }

  finish(): void {
    if (!this.started) this.session.listening.seek((this.startX - this.left) * this.framesPerPixel);
  }

  cancel(): void {
    if (this.started) this.session.listening.restoreRange(this.before);
  }
}

/** Plain: there are dozens, anew with every frame of a zoom. */
const TICK: CSSProperties = {
  position: 'absolute',
  top: 0,
  bottom: 0,
  borderLeft: '1px solid var(--mui-palette-divider)',
  paddingLeft: 4,
  lineHeight: `${RULER_HEIGHT}px`,
  pointerEvents: 'none',
};

/** Time along the top of the lanes: a click moves the playhead, a drag chooses a range. */
export function Ruler({ view }: { view: LaneView }) {
  const session = useSession();
  const project = useProject();
  const { pixelsPerSecond, scrollLeft, width } = view;
  const step = tickStep(pixelsPerSecond);
  const first = Math.floor(scrollLeft / pixelsPerSecond / step);
  const ticks = Array.from(
    { length: Math.ceil(width / pixelsPerSecond / step) + 2 },
    (_, i) => (first + i) * step,
  );

  const bind = useGesture((event) => {
    event.stopPropagation();
    const { left } = event.currentTarget.getBoundingClientRect();
    return new RangeGesture(session, event.clientX, left, project.sampleRate / pixelsPerSecond);
  });

  return (
    <Box
      sx={{
        position: 'sticky',
        top: 0,
        zIndex: 5,
        height: RULER_HEIGHT,
        display: 'flex',
        bgcolor: 'background.paper',
        borderBottom: 1,
        borderColor: 'divider',
      }}
    >
      <Box
        sx={{
          position: 'sticky',
          left: 0,
          zIndex: 1,
          width: view.headWidth,
          flex: 'none',
          bgcolor: 'background.paper',
          borderRight: 1,
          borderColor: 'divider',
        }}
      >
        <WidthEdge reachable />
      </Box>
      <Box
        data-ruler
        sx={{
          position: 'relative',
          flex: 1,
          overflow: 'hidden',
          cursor: 'text',
          fontSize: 10.5,
          color: 'text.secondary',
        }}
        {...bind()}
      >
        {ticks.map((seconds) => (
          <div key={seconds} aria-hidden style={{ ...TICK, left: seconds * pixelsPerSecond }}>
            {placeText(project, seconds * project.sampleRate, step < 1 ? 1 : 0)}
          </div>
        ))}
        <MarkerFlags pixelsPerSecond={pixelsPerSecond} />
      </Box>
    </Box>
  );
}

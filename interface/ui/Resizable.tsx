'use client';

import Box from '@mui/material/Box';
import { useEffect, useRef, type ReactNode } from 'react';
import {
  Group,
  Panel,
  Separator,
  type GroupImperativeHandle,
  type PanelImperativeHandle,
} from 'react-resizable-panels';

interface Props {
  /** Where the side stands: to the right of the main part, or under it. */
  readonly side: 'right' | 'bottom';
  /** What the side is, for those who move its edge by keys. */
  readonly label: string;
  /** Of the side, CSS pixels. */
  readonly size: number;
  readonly least: number;
  /** That the main part has at least. */
  readonly leastMain: number;
  readonly onSize: (size: number) => void;
  readonly main: ReactNode;
  /** Nothing where there is none now. */
  readonly children: ReactNode;
}

/** Name of the side in its group. */
const SIDE = 'side';

const COLUMN = { display: 'flex', flexDirection: 'column', overflow: 'hidden' } as const;

/** A main part with another beside it or under it, whose edge is dragged, or moved by arrow keys; a double click resets it. */
export function Resizable({ side, label, size, least, leastMain, onSize, main, children }: Props) {
  const group = useRef<GroupImperativeHandle>(null);
  const panel = useRef<PanelImperativeHandle>(null);
  // What was saved comes in after the first drawing.
  useEffect(() => {
    // A panel that has only just come has its size, but no layout yet.
    if (!panel.current || group.current?.getLayout()[SIDE] === undefined) return;
    if (Math.abs(panel.current.getSize().inPixels - size) > 1) panel.current.resize(size);
  }, [size]);
  const vertical = side === 'bottom';
  return (
    <Group
      groupRef={group}
      orientation={vertical ? 'vertical' : 'horizontal'}
      style={{ flex: 1, minHeight: 0, minWidth: 0 }}
      onLayoutChanged={(_, { isUserInteraction }) => {
        const now = panel.current?.getSize().inPixels;
        if (isUserInteraction && now !== undefined) onSize(Math.round(now));
      }}
    >
      <Panel minSize={leastMain} style={COLUMN}>
        {main}
      </Panel>
      {children && (
        <>
          <Box
            component={Separator}
            aria-label={`Size of ${label}`}
            sx={{
              flex: 'none',
              [vertical ? 'height' : 'width']: 5,
              bgcolor: 'divider',
              '&[data-separator=hover], &[data-separator=active], &:focus-visible': {
                bgcolor: 'primary.main',
              },
            }}
          />
          <Panel
            id={SIDE}
            panelRef={panel}
            defaultSize={size}
            minSize={least}
            groupResizeBehavior="preserve-pixel-size"
            style={COLUMN}
          >
            {children}
          </Panel>
        </>
      )}
    </Group>
  );
}

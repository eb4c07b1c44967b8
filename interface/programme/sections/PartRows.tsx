'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import type { SectionRow } from '@/core/levelling/sectionLevels';
import type { Clip, Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { signed } from '@/core/text/figures';
import { useProject, useSession } from '../../session/SessionContext';
import { HearButton } from '../HearButton';
import type { Frames } from './sectionActions';

/** A part that was found, with its clip and where it is. */
export interface FoundPart {
  readonly key: string;
  readonly clip: Clip;
  readonly row: SectionRow;
  readonly range: Frames;
}

const ROW_HEIGHT = 38;
const GRID = '30px minmax(110px, 180px) 64px 64px 64px minmax(0, 1fr) 132px';
const HEADINGS = ['Hear', 'Clip', 'Where', 'Over rest', 'Gain dB', 'Why', ''] as const;

interface Props {
  readonly parts: readonly FoundPart[];
  readonly onAccept: (part: FoundPart) => void;
  readonly onLeave: (part: FoundPart) => void;
  /** The programme with one part levelled. */
  readonly proposed: (part: FoundPart) => Project;
}

/** Played before and after a part, seconds: how it fits is heard at its edges. */
const AROUND_SECONDS = 1;

/** Parts that were found, a row each. */
export function PartRows({ parts, onAccept, onLeave, proposed }: Props) {
  const session = useSession();
  const project = useProject();
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const list = useVirtualizer({
    count: parts.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    getItemKey: (index) => parts[index]!.key,
    overscan: 6,
  });
  const grid = { display: 'grid', gridTemplateColumns: GRID, columnGap: 1, px: 1.5, alignItems: 'center' };
  const right = { textAlign: 'right' } as const;
  const around = AROUND_SECONDS * project.sampleRate;
  const goTo = ({ clip, range }: FoundPart): void => {
    session.select([clip.id], true);
    session.setRange(range.from, range.to);
    session.seek(range.from);
    session.desk?.reveal(range.from / project.sampleRate);
  };
  return (
    <Box
      ref={scroller}
      role="table"
      aria-label="Parts found"
      aria-rowcount={parts.length}
      tabIndex={0}
      sx={{ flex: 1, minHeight: 0, overflow: 'auto', fontSize: 12.5, borderTop: 1, borderColor: 'divider' }}
    >
      <Box role="rowgroup" sx={{ position: 'sticky', top: 0, zIndex: 1, bgcolor: 'background.paper' }}>
        <Box role="row" sx={{ ...grid, py: 0.5, fontSize: 11, color: 'text.secondary' }}>
          {HEADINGS.map((heading, i) => (
            <Box
              key={heading}
              role="columnheader"
              sx={i === 3 || i === 4 ? right : i === 5 ? { pl: 1 } : undefined}
            >
              {heading}
            </Box>
          ))}
        </Box>
      </Box>
      <Box role="rowgroup" sx={{ position: 'relative' }} style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map((item) => {
          const part = parts[item.index]!;
          const { clip, row, range } = part;
          const where = placeText(project, range.from);
          const name = `${clip.name} at ${where}`;
          return (
            <Box
              role="row"
              key={item.key}
              data-found-part={clip.name}
              sx={{
                ...grid,
                position: 'absolute',
                left: 0,
                right: 0,
                height: ROW_HEIGHT,
                borderBottom: 1,
                borderColor: 'divider',
              }}
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <Box role="cell">
                <HearButton
                  clipId={clip.id}
                  of={part.key}
                  name={name}
                  proposed={() => proposed(part)}
                  range={{ from: range.from - around, to: range.to + around }}
                />
              </Box>
              <Box
                role="cell"
                title={clip.name}
                sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', fontWeight: 550 }}
              >
                {clip.name}
              </Box>
              <Box role="cell">
                <Button
                  color="inherit"
                  aria-label={`Go to ${name}`}
                  onClick={() => goTo(part)}
                  sx={{ p: 0, minWidth: 0, fontWeight: 450, textDecoration: 'underline' }}
                >
                  {where}
                </Button>
              </Box>
              <Box role="cell" sx={right}>
                {signed(row.overLu)} LU
              </Box>
              <Box role="cell" sx={{ ...right, fontWeight: 650 }}>
                {signed(row.changeDb)}
              </Box>
              <Box
                role="cell"
                title={row.sentence}
                sx={{
                  pl: 1,
                  fontSize: 12,
                  lineHeight: '15px',
                  overflow: 'hidden',
                  display: '-webkit-box',
                  WebkitLineClamp: 2,
                  WebkitBoxOrient: 'vertical',
                }}
              >
                {row.limitedBy ? '▲ ' : ''}
                {row.sentence}
              </Box>
              <Box role="cell" sx={{ display: 'flex', justifyContent: 'end' }}>
                <Button aria-label={`Leave ${name}`} color="inherit" onClick={() => onLeave(part)}>
                  Leave
                </Button>
                <Button aria-label={`Accept ${name}`} onClick={() => onAccept(part)}>
                  Accept
                </Button>
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

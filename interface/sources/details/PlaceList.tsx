'use client';

import PlayIcon from '@mui/icons-material/PlayArrow';
import WarningIcon from '@mui/icons-material/WarningAmber';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { clock } from '@/core/text/figures';
import type { Place } from './places';

const ROW = 26;
const MOST_ROWS = 6;

/** Places in a source; each plays from a little before. */
export function PlaceList({ places, onPlay }: { places: readonly Place[]; onPlay: (at: number) => void }) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const rows = useVirtualizer({
    count: places.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  return (
    <Box
      ref={scroller}
      role="list"
      aria-label="Places"
      tabIndex={0}
      sx={{
        height: Math.min(MOST_ROWS, Math.max(1, places.length)) * ROW + 2,
        overflow: 'auto',
        border: 1,
        borderColor: 'divider',
        borderRadius: 1,
      }}
    >
      <Box sx={{ height: rows.getTotalSize(), position: 'relative' }}>
        {rows.getVirtualItems().map((item) => {
          const { at, words, bad } = places[item.index]!;
          return (
            <Box
              role="listitem"
              key={item.key}
              sx={{ position: 'absolute', left: 0, right: 0, height: ROW }}
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <ButtonBase
                onClick={() => onPlay(at)}
                aria-label={`Play from ${clock(at)} ${words}`}
                data-place={bad ? 'bad' : 'plain'}
                sx={{
                  width: '100%',
                  height: '100%',
                  px: 1,
                  gap: 1,
                  justifyContent: 'flex-start',
                  fontFamily: 'inherit',
                  fontSize: 12.5,
                  '&:hover': { bgcolor: 'action.hover' },
                }}
              >
                <PlayIcon sx={{ fontSize: 15, color: 'text.secondary' }} />
                <Box sx={{ width: 56, textAlign: 'right' }}>{clock(at)}</Box>{' '}
                <Box
                  sx={{
                    color: bad ? 'level.over' : undefined,
                    display: 'flex',
                    alignItems: 'center',
                    gap: 0.5,
                  }}
                >
                  {bad && <WarningIcon sx={{ fontSize: 14 }} />}
                  {words}
                </Box>
              </ButtonBase>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

'use client';

import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef } from 'react';
import { UNIT } from '@/core/levelling/reading';
import type { ProposalRow } from '@/core/levelling/proposal';
import type { Id, LevelMeasure, Project } from '@/core/programme/model';
import { figure, signed } from '@/core/text/figures';
import { useProject } from '../session/SessionContext';
import { HearButton } from './HearButton';

const GRID = '52px minmax(110px, 164px) 50px 46px 62px 50px 46px minmax(0, 1fr)';
const ROW_HEIGHT = 30;

interface Props {
  readonly rows: readonly ProposalRow[];
  readonly measure: LevelMeasure;
  /** Rows the editor took out. */
  readonly left: ReadonlySet<Id>;
  readonly onLeave: (clipId: Id, leave: boolean) => void;
  /** The programme with the gain of one row. */
  readonly withRow: (row: ProposalRow) => Project;
}

/** A proposal, a row a clip: before, the gain, after, and the reason in a sentence. */
export function ProposalTable({ rows, measure, left, onLeave, withRow }: Props) {
  const { clips } = useProject();
  const names = useMemo(() => new Map(clips.map((clip) => [clip.id, clip.name])), [clips]);
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    getItemKey: (index) => rows[index]!.clipId,
    overscan: 6,
  });
  const unit = UNIT[measure];
  const right = { textAlign: 'right' } as const;
  return (
    <Box
      ref={scroller}
      role="table"
      aria-label="Proposal"
      aria-rowcount={rows.length}
      tabIndex={0}
      sx={{ flex: 1, minHeight: 0, overflow: 'auto', fontSize: 12.5, borderTop: 1, borderColor: 'divider' }}
    >
      <Box role="rowgroup" sx={{ position: 'sticky', top: 0, zIndex: 1, bgcolor: 'background.paper' }}>
        <Box
          role="row"
          sx={{
            display: 'grid',
            gridTemplateColumns: GRID,
            columnGap: 1,
            px: 1.5,
            py: 0.5,
            fontSize: 11,
            color: 'text.secondary',
          }}
        >
          <Box role="columnheader" aria-label="Apply, hear" />
          <Box role="columnheader">Clip</Box>
          <Box role="columnheader" sx={right}>
            Before {unit}
          </Box>
          <Box role="columnheader" sx={right}>
            Gain now dB
          </Box>
          <Box role="columnheader" sx={right}>
            Proposed dB
          </Box>
          <Box role="columnheader" sx={right}>
            After {unit}
          </Box>
          <Box role="columnheader" sx={right}>
            Peak dBTP
          </Box>
          <Box role="columnheader" sx={{ pl: 1 }}>
            Why
          </Box>
        </Box>
      </Box>
      <Box role="rowgroup" sx={{ position: 'relative' }} style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map((item) => {
          const row = rows[item.index]!;
          const name = names.get(row.clipId) ?? '';
          const out = row.skipped !== null;
          return (
            <Box
              role="row"
              key={item.key}
              data-proposal={name}
              data-limited={row.limitedBy ?? ''}
              sx={{
                position: 'absolute',
                left: 0,
                right: 0,
                height: ROW_HEIGHT,
                display: 'grid',
                gridTemplateColumns: GRID,
                columnGap: 1,
                px: 1.5,
                alignItems: 'center',
                borderBottom: 1,
                borderColor: 'divider',
                color: out || left.has(row.clipId) ? 'text.secondary' : undefined,
              }}
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <Box role="cell" sx={{ display: 'flex' }}>
                <Checkbox
                  size="small"
                  disabled={out}
                  checked={!out && !left.has(row.clipId)}
                  onChange={(event) => onLeave(row.clipId, !event.target.checked)}
                  slotProps={{ input: { 'aria-label': `Apply to ${name}` } }}
                  sx={{ p: 0.25 }}
                />
                <HearButton clipId={row.clipId} name={name} proposed={() => withRow(row)} />
              </Box>
              <Box
                role="cell"
                sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', fontWeight: 550 }}
                title={name}
              >
                {name}
              </Box>
              <Box role="cell" sx={right}>
                {figure(row.before)}
              </Box>
              <Box role="cell" sx={right}>
                {signed(row.gainBeforeDb)}
              </Box>
              <Box role="cell" sx={{ ...right, fontWeight: 650 }}>
                {out ? '—' : signed(row.gainAfterDb, 2)}
              </Box>
              <Box role="cell" sx={right}>
                {figure(row.after)}
              </Box>
              <Box role="cell" sx={right}>
                {figure(row.truePeakAfter)}
              </Box>
              <Box
                role="cell"
                title={[row.sentence, ...row.warnings].join('\n')}
                sx={{
                  pl: 1,
                  overflow: 'hidden',
                  textOverflow: 'ellipsis',
                  whiteSpace: 'nowrap',
                  color: row.limitedBy || row.passesCeiling ? 'level.over' : undefined,
                }}
              >
                {row.limitedBy || row.passesCeiling ? '▲ ' : ''}
                {row.sentence}
                {row.warnings.length > 0 && (
                  <Box component="span" data-warning sx={{ color: 'warning.main' }}>
                    {' '}
                    ! {row.warnings.join(' ')}
                  </Box>
                )}
              </Box>
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

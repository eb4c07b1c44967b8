'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Checkbox from '@mui/material/Checkbox';
import Tooltip from '@mui/material/Tooltip';
import { useMemo, useState } from 'react';
import { UNIT } from '@/core/measuring/clipReading';
import type { ProposalRow } from '@/core/proposals/proposal';
import { clampGain, parseGainEntry } from '@/core/programme/gainField';
import type { Id, LevelMeasure, Project } from '@/core/programme/model';
import { figure, signed } from '@/core/text/figures';
import { VirtualTable, type TableColumn } from '../../parts/VirtualTable';
import { useProject } from '../../session/SessionContext';
import { HearButton } from '../HearButton';
import { Cell } from '../ledger/cells';

interface Props {
  readonly rows: readonly ProposalRow[];
  readonly measure: LevelMeasure;
  /** Rows the editor took out. */
  readonly left: ReadonlySet<Id>;
  readonly onLeave: (clipId: Id, leave: boolean) => void;
  /** Rows whose gain was typed. */
  readonly typed: ReadonlyMap<Id, number>;
  /** A gain was typed into a row; `null`: the one proposed again. */
  readonly onType: (clipId: Id, gainDb: number | null) => void;
  /** The programme with the gain of one row. */
  readonly withRow: (row: ProposalRow) => Project;
}

const atCeiling = (row: ProposalRow): boolean => row.limitedBy !== null || row.passesCeiling;

/** A proposal, a row a clip: before, the gain, after, and the reason in a sentence. */
export function ProposalTable({ rows, measure, left, onLeave, typed, onType, withRow }: Props) {
  const { clips } = useProject();
  const [editing, setEditing] = useState<Id | null>(null);
  const names = useMemo(() => new Map(clips.map((clip) => [clip.id, clip.name])), [clips]);
  const nameOf = ({ id }: ProposalRow): string => names.get(id) ?? '';
  const out = ({ skipped }: ProposalRow): boolean => skipped !== null;
  const unit = UNIT[measure];
  const columns: readonly TableColumn<ProposalRow>[] = [
    {
      heading: '',
      spoken: 'Apply, hear',
      width: '52px',
      sx: { display: 'flex' },
      cell: (row) => (
        <>
          <Checkbox
            size="small"
            disabled={out(row)}
            checked={!out(row) && !left.has(row.id)}
            onChange={(event) => onLeave(row.id, !event.target.checked)}
            slotProps={{ input: { 'aria-label': `Apply to ${nameOf(row)}` } }}
            sx={{ p: 0.25 }}
          />
          <HearButton clipId={row.id} name={nameOf(row)} proposed={() => withRow(row)} />
        </>
      ),
    },
    {
      heading: 'Clip',
      width: 'minmax(110px, 164px)',
      title: nameOf,
      sx: { fontWeight: 550 },
      cell: nameOf,
    },
    { heading: `Before ${unit}`, width: '50px', right: true, cell: (row) => figure(row.before) },
    { heading: 'Gain now dB', width: '46px', right: true, cell: (row) => signed(row.gainBeforeDb) },
    {
      heading: 'Proposed dB',
      width: '62px',
      right: true,
      sx: { fontWeight: 650 },
      cell: (row) =>
        out(row) ? (
          '—'
        ) : editing === row.id ? (
          <Cell
            label={`Gain proposed for ${nameOf(row)} in dB`}
            initial={signed(row.gainAfterDb, 2)}
            read={(text) => {
              if (text.trim() === '') {
                onType(row.id, null);
                return null;
              }
              const entry = parseGainEntry(text);
              if ('error' in entry) return entry.error;
              onType(row.id, entry.kind === 'set' ? entry.db : clampGain(row.gainBeforeDb + entry.db));
              return null;
            }}
            onDone={() => setEditing(null)}
          />
        ) : (
          <Tooltip
            title="Type another gain; empty takes the one proposed again"
            placement="left"
            disableInteractive
          >
            <ButtonBase
              aria-label={`Gain of ${nameOf(row)}: ${signed(row.gainAfterDb, 2)} dB${typed.has(row.id) ? ', typed' : ''}. Change`}
              onClick={() => setEditing(row.id)}
              sx={{
                font: 'inherit',
                borderBottom: '1px dotted',
                borderColor: 'text.secondary',
                fontStyle: typed.has(row.id) ? 'italic' : undefined,
              }}
            >
              {signed(row.gainAfterDb, 2)}
            </ButtonBase>
          </Tooltip>
        ),
    },
    { heading: `After ${unit}`, width: '50px', right: true, cell: (row) => figure(row.after) },
    {
      heading: 'Peak dBTP',
      width: '62px',
      right: true,
      title: ({ exactPeakAfter }) =>
        exactPeakAfter === null
          ? ''
          : `The true peak of BS.1770; read exactly it is ${figure(exactPeakAfter, 2)} dBTP`,
      cell: ({ truePeakAfter, exactPeakAfter }) => (
        <>
          {figure(truePeakAfter)}
          {exactPeakAfter !== null && (
            <Box component="span" data-exact sx={{ display: 'block', fontSize: 11, color: 'text.secondary' }}>
              exact {figure(exactPeakAfter)}
            </Box>
          )}
        </>
      ),
    },
    { heading: 'Floor LUFS', width: '50px', right: true, cell: (row) => figure(row.noiseFloorAfter) },
    {
      heading: 'Why',
      width: 'minmax(0, 1fr)',
      title: (row) => [row.sentence, ...row.warnings].join('\n'),
      sentence: true,
      sx: (row) => ({ color: atCeiling(row) ? 'level.over' : undefined }),
      cell: (row) => (
        <>
          {atCeiling(row) ? '▲ ' : ''}
          {row.sentence}
          {row.warnings.length > 0 && (
            <Box component="span" data-warning sx={{ color: 'warning.main' }}>
              {' '}
              ! {row.warnings.join(' ')}
            </Box>
          )}
        </>
      ),
    },
  ];
  return (
    <VirtualTable
      label="Proposal"
      rows={rows}
      columns={columns}
      rowHeight={36}
      keyOf={(row) => row.id}
      rowProps={(row) => ({
        'data-proposal': nameOf(row),
        'data-limited': row.limitedBy ?? '',
        sx: { color: out(row) || left.has(row.id) ? 'text.secondary' : undefined },
      })}
    />
  );
}

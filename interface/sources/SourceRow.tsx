'use client';

import ExpandIcon from '@mui/icons-material/ExpandMore';
import WarningIcon from '@mui/icons-material/WarningAmber';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { isOver } from '@/core/check/judge';
import type { Source } from '@/core/programme/model';
import { clock, figure, withUnit } from '@/core/text/figures';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { gainText } from '../programme/clipLevel';
import { useProject } from '../session/SessionContext';
import { WaveCanvas } from '../parts/WaveCanvas';
import { FIGURE_COLUMNS, GRID } from './columns';
import { SourceDetails } from './details/SourceDetails';

interface Props {
  readonly source: Source;
  readonly measurement: SoundMeasurement | undefined;
  readonly missing: boolean;
  readonly clips: number;
  readonly chosen: boolean;
  readonly open: boolean;
  readonly onChoose: (chosen: boolean) => void;
  readonly onOpen: (open: boolean) => void;
}

/** One source with its figures; opens to everything that is known of it. */
export function SourceRow({ source, measurement, missing, clips, chosen, open, onChoose, onOpen }: Props) {
  const { maxTruePeakDbtp } = useProject().target;
  const over = isOver(measurement?.figures.truePeakDbtp ?? null, maxTruePeakDbtp);
  return (
    <Box
      role="rowgroup"
      sx={{ borderBottom: 1, borderColor: 'divider', bgcolor: chosen ? 'action.selected' : undefined }}
    >
      <Box
        role="row"
        data-source={source.name}
        sx={{
          display: 'grid',
          gridTemplateColumns: GRID,
          alignItems: 'center',
          columnGap: 1,
          px: 1,
          minHeight: 44,
          fontSize: 13,
        }}
      >
        <Box role="cell">
          <Checkbox
            size="small"
            checked={chosen}
            onChange={(event) => onChoose(event.target.checked)}
            slotProps={{ input: { 'aria-label': `Choose ${source.name}` } }}
          />
        </Box>
        <Box role="cell" sx={{ minWidth: 0, display: 'flex', alignItems: 'center', gap: 0.5 }}>
          <Tooltip title={source.name}>
            <Box sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', fontWeight: 550 }}>
              {source.name}
            </Box>
          </Tooltip>
          {source.partial && (
            <Box
              component="span"
              sx={{
                border: 1,
                borderColor: 'warning.main',
                color: 'warning.main',
                borderRadius: 1,
                px: 0.5,
                fontSize: 10.5,
              }}
            >
              partial
            </Box>
          )}
          {source.trimDb !== 0 && (
            <Box component="span" sx={{ fontSize: 11, color: 'text.secondary', whiteSpace: 'nowrap' }}>
              trim {gainText(source.trimDb)}
            </Box>
          )}
          {(missing || source.warnings.length > 0) && (
            <Tooltip
              title={
                missing
                  ? 'Its sound is not in this browser any more. Remove it and add the file again.'
                  : source.warnings.join(' ')
              }
            >
              <WarningIcon
                color={missing ? 'error' : 'warning'}
                sx={{ fontSize: 16 }}
                titleAccess={missing ? 'Sound missing' : 'Warning'}
              />
            </Tooltip>
          )}
        </Box>
        <Box role="cell" sx={{ minWidth: 0 }}>
          {measurement && (
            <WaveCanvas
              overview={measurement.overview}
              truePeaks={measurement.truePeaks}
              sampleRate={source.sampleRate}
              frames={source.frames}
              height={32}
              limitDbtp={maxTruePeakDbtp}
              label={`Waveform of ${source.name}; marks on its upper edge are samples at full scale and true peaks over ${withUnit(maxTruePeakDbtp, 'dBTP')}`}
            />
          )}
        </Box>
        <Box role="cell" sx={{ textAlign: 'right' }}>
          {clock(source.frames / source.sampleRate)}
        </Box>
        <Box
          role="cell"
          sx={{ fontSize: 12, color: 'text.secondary', lineHeight: 1.25, whiteSpace: 'nowrap' }}
        >
          {source.sampleRate / 1000} kHz {source.layout.name}
          <br />
          {source.codec}
        </Box>
        {FIGURE_COLUMNS.map(([key, , unit]) => (
          <Box
            role="cell"
            key={key}
            data-figure={key}
            data-value={measurement?.figures[key] ?? ''}
            sx={{
              position: 'relative',
              textAlign: 'right',
              fontWeight: key === 'integratedLufs' || (over && key === 'truePeakDbtp') ? 650 : 450,
              color: over && key === 'truePeakDbtp' ? 'level.over' : undefined,
            }}
          >
            {measurement ? figure(measurement.figures[key]) : '…'}
            {over && key === 'truePeakDbtp' && (
              <Box component="span" sx={{ fontSize: 10 }}>
                {' '}
                over
              </Box>
            )}
            <Box
              component="span"
              sx={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden', clipPath: 'inset(50%)' }}
            >
              {` ${unit}`}
            </Box>
          </Box>
        ))}
        <Box role="cell" sx={{ textAlign: 'right', color: 'text.secondary' }}>
          {clips}
        </Box>
        <Box role="cell">
          <IconButton
            size="small"
            aria-label={`Details of ${source.name}`}
            aria-expanded={open}
            onClick={() => onOpen(!open)}
          >
            <ExpandIcon fontSize="small" sx={{ transform: open ? 'rotate(180deg)' : undefined }} />
          </IconButton>
        </Box>
      </Box>
      {open && (
        <Box role="row">
          <Box role="cell">
            <SourceDetails source={source} sound={measurement} />
          </Box>
        </Box>
      )}
    </Box>
  );
}

'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useMemo, useState, type RefObject } from 'react';
import type { TimeRange } from '@/core/loudness/levelTrack';
import { clock, figure } from '@/core/text/figures';
import { overRestText } from '@/core/text/overRest';
import { useThemeMode } from '../../theme/ThemeSwitch';
import { themeColour } from '../../ui/canvas';
import { safeName } from '@/core/text/safeName';
import { saveBlob } from '../../ui/saveBlob';
import type { Looked } from '../looked';
import { chartCsv, chartSvg, savePng } from './chartFiles';
import { OverTimeTable } from './OverTimeTable';
import { momentAt, panelsOf, type ChartData } from './panels';
import { TimeCharts } from './TimeCharts';

/** What stands under the pointer, or at the playhead, in words. */
function Readout({ data, seconds }: { data: ChartData; seconds: number }) {
  const moment = momentAt(data, seconds);
  const parts = [
    `Momentary ${figure(moment.momentaryLufs)}`,
    `short-term ${figure(moment.shortTermLufs)}`,
    `so far ${figure(moment.runningLufs)} LUFS`,
    ...data.channels.slice(0, 6).map((label, c) => `${label} ${figure(moment.truePeakDbtp[c])}`),
    'dBTP',
    ...(data.reductions.length > 0 ? [`reduction ${figure(moment.reductionDb)} dB`] : []),
    ...(moment.speechOverRestLu === null
      ? []
      : [`speech ${overRestText(moment.speechOverRestLu)} over the rest`]),
  ];
  return (
    <Box
      data-readout
      sx={{ fontSize: 12, whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}
    >
      <b>{clock(seconds)}</b> {parts.join('  ')}
    </Box>
  );
}

function ExportMenu({
  named,
  data,
  view,
  box,
}: {
  /** What is charted. */
  named: string;
  data: ChartData;
  view: TimeRange;
  /** Holds the canvases. */
  box: RefObject<HTMLElement | null>;
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const mode = useThemeMode();
  const name = safeName(`${named} over time`);
  const close = (): void => setAnchor(null);
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ borderColor: 'divider' }}
      >
        Save as…
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={close}>
        <MenuItem
          dense
          onClick={() => {
            close();
            savePng(
              [...(box.current?.querySelectorAll('canvas') ?? [])],
              themeColour(mode)('background-default'),
              `${name}.png`,
            );
          }}
        >
          Picture (PNG)
        </MenuItem>
        <MenuItem
          dense
          onClick={() => {
            close();
            saveBlob(
              new Blob([chartSvg(data, view, themeColour(mode))], { type: 'image/svg+xml' }),
              `${name}.svg`,
            );
          }}
        >
          Picture (SVG)
        </MenuItem>
        <MenuItem
          dense
          onClick={() => {
            close();
            saveBlob(new Blob([chartCsv(data)], { type: 'text/csv' }), `${name}.csv`);
          }}
        >
          Table (CSV)
        </MenuItem>
      </Menu>
    </>
  );
}

/** Loudness, true peaks, gain reduction and dialogue over one axis of time; a click plays from there. */
export function OverTimeFace({ data, looked }: { data: ChartData; looked: Looked }) {
  const panels = useMemo(() => panelsOf(data), [data]);
  return (
    <TimeCharts
      data={data}
      panels={panels}
      seconds={data.programme.lengthSeconds}
      looked={looked}
      top={(seconds) => (
        <>
          <Readout data={data} seconds={seconds} />
          <Box sx={{ fontSize: 11, color: 'text.secondary', whiteSpace: 'nowrap' }}>
            ▇ momentary&ensp;— short-term&ensp;
            <Box component="span" sx={{ color: 'primary.main', fontWeight: 700 }}>
              —
            </Box>{' '}
            integrated so far
          </Box>
        </>
      )}
      table={<OverTimeTable data={data} />}
      tools={(view, box) => <ExportMenu named={looked.name} data={data} view={view} box={box} />}
    />
  );
}

import ExpandIcon from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import IconButton from '@mui/material/IconButton';
import type { ReactNode } from 'react';
import { isOver } from '@/core/check/judge';
import type { LoudnessFigures } from '@/core/loudness/figures';
import type { SoundMeasurement } from '@/core/loudness/sound';
import type { Id, Source } from '@/core/programme/model';
import { clock, figure, withUnit } from '@/core/text/figures';
import type { DataColumn } from '../ui/table/column';
import { WAVE_LINES_DBFS, WaveCanvas } from '../ui/WaveCanvas';
import type { AbsentState } from './AbsentTools';
import { NameCell } from './sourceCells';

/** A source and what is known of it. */
export interface SourceRow {
  readonly source: Source;
  readonly sound: SoundMeasurement | undefined;
  /** Its sound is not in this browser, or why the browser cannot read it; `null` when it is there. */
  readonly absent: AbsentState | null;
  /** How many clips are placed from it. */
  readonly clips: number;
}

type Figure = keyof Omit<LoudnessFigures, 'channelPeaks'>;

const FIGURES: readonly (readonly [key: Figure, title: string, unit: string])[] = [
  ['integratedLufs', 'Integrated', 'LUFS'],
  ['maxShortTermLufs', 'Max short', 'LUFS'],
  ['maxMomentaryLufs', 'Max mom.', 'LUFS'],
  ['loudnessRangeLu', 'Range', 'LU'],
  ['truePeakDbtp', 'True peak', 'dBTP'],
  ['samplePeakDbfs', 'Sample peak', 'dBFS'],
];

function figureColumn(
  [key, title, unit]: (typeof FIGURES)[number],
  limitDbtp: number,
): DataColumn<SourceRow> {
  const over = ({ sound }: SourceRow): boolean =>
    key === 'truePeakDbtp' && isOver(sound?.figures.truePeakDbtp ?? null, limitDbtp);
  return {
    ...{ id: key, heading: `${title} ${unit}`, size: 74, right: true },
    order: ({ sound }) => sound?.figures[key] ?? null,
    cell: (row) => (
      <>
        {row.sound ? figure(row.sound.figures[key]) : '…'}
        {over(row) && (
          <Box component="span" sx={{ fontSize: 10 }}>
            {' '}
            over
          </Box>
        )}
      </>
    ),
    cellProps: (row) => ({
      'data-figure': key,
      'data-value': row.sound?.figures[key] ?? '',
      sx: {
        fontWeight: key === 'integratedLufs' || over(row) ? 650 : 450,
        color: over(row) ? 'level.over' : undefined,
      },
    }),
  };
}

/** “L −3.1, R −2.8”. */
const channelPeaks = ({ sound }: SourceRow): string =>
  (sound?.figures.channelPeaks ?? [])
    .map(({ label, truePeakDbtp }) => `${label} ${figure(truePeakDbtp)}`)
    .join(', ');

interface Drawing {
  /** Over which waveforms are marked, dBTP. */
  readonly limitDbtp: number;
  readonly isChosen: (id: Id) => boolean;
  /** @param toHere all from the last one to this one */
  readonly onChoose: (id: Id, chosen: boolean, toHere: boolean) => void;
  readonly isOpen: (id: Id) => boolean;
  readonly onOpen: (id: Id, open: boolean) => void;
  /** Over the boxes that choose: chooses all. */
  readonly head: ReactNode;
}

/** The columns of the table of sources. */
export function sourceColumns(drawing: Drawing): DataColumn<SourceRow>[] {
  const { limitDbtp, isChosen, onChoose, isOpen, onOpen, head } = drawing;
  return [
    {
      ...{ id: 'choose', heading: '', spoken: 'Select', size: 34, fixed: true, head },
      cell: ({ source }) => (
        <Checkbox
          size="small"
          checked={isChosen(source.id)}
          onChange={({ target, nativeEvent }) =>
            onChoose(source.id, target.checked, (nativeEvent as MouseEvent).shiftKey)
          }
          slotProps={{ input: { 'aria-label': `Select ${source.name}` } }}
          sx={{ p: 0.5 }}
        />
      ),
    },
    {
      ...{ id: 'name', heading: 'Source', size: 150, grow: 1.4, fixed: true },
      order: ({ source }) => source.name,
      cell: ({ source, sound, absent }) => <NameCell source={source} sound={sound} absent={absent} />,
    },
    {
      ...{
        id: 'wave',
        heading: `Waveform, lines ${WAVE_LINES_DBFS.map((dbfs) => figure(dbfs, 0)).join(', ')} dBFS`,
        size: 110,
        grow: 1,
      },
      cell: ({ source, sound }) =>
        sound && (
          <WaveCanvas
            overview={sound.overview}
            truePeaks={sound.truePeaks}
            sampleRate={source.sampleRate}
            frames={source.frames}
            height={32}
            limitDbtp={limitDbtp}
            label={`Waveform of ${source.name}; marks on its upper edge are samples at full scale and true peaks over ${withUnit(limitDbtp, 'dBTP')}`}
          />
        ),
    },
    {
      ...{ id: 'length', heading: 'Length', size: 58, right: true },
      order: ({ source }) => source.frames / source.sampleRate,
      cell: ({ source }) => clock(source.frames / source.sampleRate),
    },
    {
      ...{ id: 'format', heading: 'Format', size: 128 },
      order: ({ source }) => `${source.codec} ${source.sampleRate}`,
      cell: ({ source }) => (
        <>
          {source.sampleRate / 1000} kHz {source.layout.name}
          <br />
          {source.codec}
        </>
      ),
      cellProps: () => ({ sx: { fontSize: 12, color: 'text.secondary', lineHeight: 1.25 } }),
    },
    ...FIGURES.map((one) => figureColumn(one, limitDbtp)),
    {
      ...{ id: 'floor', heading: 'Floor LUFS', hint: 'Noise floor', size: 60, right: true, hidden: true },
      order: ({ sound }) => sound?.details.noiseFloorLufs ?? null,
      cell: ({ sound }) => (sound ? figure(sound.details.noiseFloorLufs) : '…'),
    },
    {
      ...{
        id: 'clipped',
        heading: 'Clipped',
        hint: 'Places at full scale',
        size: 56,
        right: true,
        hidden: true,
      },
      order: ({ sound }) => sound?.details.clippedRunCount ?? null,
      cell: ({ sound }) => (sound ? String(sound.details.clippedRunCount) : '…'),
    },
    {
      ...{ id: 'channels', heading: 'Channel peaks dBTP', size: 96, hidden: true },
      cell: channelPeaks,
      cellProps: (row) => ({ title: channelPeaks(row) }),
    },
    {
      ...{ id: 'says', heading: 'Metadata', hint: 'What the file says of itself', size: 120, hidden: true },
      order: ({ source }) => source.says?.texts[0]?.[1] ?? null,
      cell: ({ source }) => source.says?.texts.map(([, text]) => text).join('; '),
      cellProps: ({ source }) => ({
        title: source.says?.texts.map(([label, text]) => `${label}: ${text}`).join('\n') ?? '',
      }),
    },
    {
      ...{ id: 'clips', heading: 'Clips', size: 44, right: true },
      order: ({ clips }) => clips,
      cell: ({ clips }) => clips,
      cellProps: () => ({ sx: { color: 'text.secondary' } }),
    },
    {
      ...{ id: 'more', heading: '', spoken: 'Details', size: 36, fixed: true },
      cell: ({ source }) => (
        <IconButton
          size="small"
          aria-label={`Details of ${source.name}`}
          aria-expanded={isOpen(source.id)}
          onClick={() => onOpen(source.id, !isOpen(source.id))}
        >
          <ExpandIcon fontSize="small" sx={{ transform: isOpen(source.id) ? 'rotate(180deg)' : undefined }} />
        </IconButton>
      ),
    },
  ];
}

'use client';

import Box from '@mui/material/Box';
import { memo } from 'react';
import type { Clip } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/render/measureClip';
import type { Target } from '@/core/targets/target';
import { clock, figure, signed } from '@/core/text/figures';
import { markPath, STANDING_COLOUR } from '../parts/LevelMark';
import { clipLevel, gainText, levelWords } from './clipLevel';
import { bodyHeight, LANE_BOTTOM_LU, LANE_TOP_LU, NAME_STRIP, yOf } from './laneScale';

interface Props {
  readonly clip: Clip;
  readonly measurement: ClipMeasurement | null;
  readonly missing: boolean;
  readonly target: Target;
  readonly trackName: string;
  readonly sampleRate: number;
  readonly left: number;
  readonly width: number;
  readonly laneHeight: number;
  readonly selected: boolean;
  readonly tabbable: boolean;
}

/** The clip's own loudness on the lane's scale: the line that one drags. */
function Waterline({
  clip,
  measurement,
  missing,
  target,
  width,
  laneHeight,
}: Pick<Props, 'clip' | 'measurement' | 'missing' | 'target' | 'width' | 'laneHeight'>) {
  const level = clipLevel(measurement, clip.gain.db, target);
  if (level.relative === null) {
    return (
      <Box
        sx={{
          position: 'absolute',
          left: 6,
          bottom: 4,
          fontSize: 11,
          color: 'text.secondary',
          pointerEvents: 'none',
        }}
      >
        {missing ? 'sound missing' : measurement ? 'no loudness' : 'measuring …'}
      </Box>
    );
  }
  const y = NAME_STRIP + yOf(level.relative, bodyHeight(laneHeight));
  const top = Math.min(laneHeight - 15, y - 7);
  const colour = STANDING_COLOUR[level.standing];
  const beyond =
    level.relative > LANE_TOP_LU ? ', far over' : level.relative < LANE_BOTTOM_LU ? ', far under' : '';
  const text = `${figure(level.lufs)} LUFS (${signed(level.relative)} LU${beyond})`;
  return (
    <Box
      data-waterline={clip.id}
      sx={{ position: 'absolute', left: 0, right: 0, height: 14, cursor: 'ns-resize', touchAction: 'none' }}
      style={{ top }}
    >
      <Box
        sx={{ position: 'absolute', left: 0, right: 0, height: 2, bgcolor: colour }}
        style={{ top: y - top - 1 }}
      />
      <svg
        width={14}
        height={14}
        aria-hidden
        style={{ position: 'absolute', left: Math.min(5, width / 2 - 7), top: 0 }}
      >
        <circle cx={7} cy={7} r={6.5} fill="var(--mui-palette-background-paper)" />
        <path d={markPath(level.standing, 7, 7, 9)} fill={colour} />
      </svg>
      {width > 150 && (
        <Box
          sx={{
            position: 'absolute',
            left: 26,
            fontSize: 11,
            lineHeight: '14px',
            whiteSpace: 'nowrap',
            color: 'text.primary',
            bgcolor: 'background.paper',
            px: 0.5,
            borderRadius: 0.5,
            opacity: 0.94,
          }}
          style={{ top: y > laneHeight - 20 ? -12 : y < NAME_STRIP + 16 ? 10 : 9 }}
        >
          {text}
        </Box>
      )}
    </Box>
  );
}

/** One clip on its lane; the gestures on it are handled by the lanes. */
export const ClipBox = memo(function ClipBox(props: Props) {
  const {
    clip,
    measurement,
    missing,
    target,
    trackName,
    sampleRate,
    left,
    width,
    laneHeight,
    selected,
    tabbable,
  } = props;
  const level = clipLevel(measurement, clip.gain.db, target);
  const label = [
    clip.name,
    trackName,
    `at ${clock(clip.start / sampleRate)}`,
    `${clock(clip.length / sampleRate)} long`,
    `gain ${gainText(clip.gain.db)}`,
    missing ? 'its sound is missing' : measurement ? levelWords(level) : 'being measured',
    ...(level.overCeiling ? [`true peak ${figure(level.truePeakDbtp)} dBTP, over the ceiling`] : []),
  ].join(', ');
  return (
    <Box
      role="option"
      id={`clip-${clip.id}`}
      aria-selected={selected}
      aria-label={label}
      tabIndex={tabbable ? 0 : -1}
      data-clip={clip.id}
      data-name={clip.name}
      data-lufs={level.lufs ?? ''}
      data-gain={clip.gain.db}
      sx={{
        position: 'absolute',
        top: 0,
        overflow: 'hidden',
        borderRadius: 0.5,
        border: '1px solid',
        borderColor: selected ? 'text.primary' : 'divider',
        boxShadow: selected ? 'inset 0 0 0 1px var(--mui-palette-text-primary)' : undefined,
        cursor: 'grab',
        '&:focus-visible': { outlineOffset: -3 },
      }}
      style={{ left, width: Math.max(2, width), height: laneHeight - 1 }}
    >
      <Box
        sx={{
          height: NAME_STRIP - 1,
          px: 0.75,
          display: 'flex',
          gap: 1,
          justifyContent: 'space-between',
          fontSize: 11,
          lineHeight: `${NAME_STRIP - 1}px`,
          whiteSpace: 'nowrap',
          overflow: 'hidden',
          bgcolor: selected ? 'text.primary' : 'sheet.band',
          color: selected ? 'background.paper' : 'text.primary',
        }}
      >
        <Box component="span" sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
          {clip.name}
        </Box>
        {clip.gain.db !== 0 && width > 110 && <span>{gainText(clip.gain.db)}</span>}
      </Box>
      {width > 28 &&
        (['start', 'end'] as const).map((edge) => (
          <Box
            key={edge}
            aria-hidden
            data-edge={edge}
            sx={{
              position: 'absolute',
              top: 0,
              bottom: 0,
              [edge === 'start' ? 'left' : 'right']: 0,
              width: 6,
              cursor: 'col-resize',
              zIndex: 2,
              '&:hover': { bgcolor: 'text.secondary', opacity: 0.5 },
            }}
          />
        ))}
      <Waterline
        clip={clip}
        measurement={measurement}
        missing={missing}
        target={target}
        width={width}
        laneHeight={laneHeight}
      />
    </Box>
  );
});

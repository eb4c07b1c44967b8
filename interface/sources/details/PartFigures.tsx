'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMemo } from 'react';
import { partFigures, type TimeRange } from '@/core/loudness/levelTrack';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { clock, figure } from '@/core/text/figures';
import { parseRange } from '@/core/text/timeEntry';
import type { Source } from '@/core/programme/model';
import { PlacePart } from '../sourceMenus';
import { useTyped } from '../../editing/useTyped';

interface Props {
  readonly source: Source;
  readonly sound: SoundMeasurement;
  readonly seconds: number;
  readonly part: TimeRange | null;
  /** It is still being dragged out: it is measured when it is let go, as it may be hours long. */
  readonly moving: boolean;
  readonly onPart: (part: TimeRange | null) => void;
}

interface EndProps {
  readonly label: string;
  /** Empty while there is no part. */
  readonly shown: string;
  /** @returns what is accepted, where it cannot be read */
  readonly take: (text: string) => string | null;
}

/** One end of a part, typed. */
function End({ label, shown, take }: EndProps) {
  const { error, handlers } = useTyped(shown, take);
  return (
    <TextField
      label={label}
      error={error !== null}
      helperText={error}
      sx={{ width: error === null ? 92 : 200 }}
      slotProps={{ inputLabel: { shrink: true } }}
      {...handlers}
    />
  );
}

/** The figures of a part of a source: dragged out on the trace, or typed. */
export function PartFigures({ source, sound, seconds, part, moving, onPart }: Props) {
  const found = useMemo(() => (part && !moving ? partFigures(sound, part) : null), [sound, part, moving]);
  const end = String(seconds);
  /** @param otherwise the other end, where the two would be the wrong way round */
  const take = (from: string, to: string, otherwise: string): string | null => {
    if (from.trim() === '' || to.trim() === '') {
      onPart(null);
      return null;
    }
    const tries = [
      parseRange(from, to, seconds),
      otherwise === '0' ? parseRange('0', to, seconds) : parseRange(from, otherwise, seconds),
    ];
    const range = tries.find((one) => !('error' in one)) ?? tries[0]!;
    if ('error' in range) return range.error;
    onPart(range);
    return null;
  };
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mt: 1, minHeight: 40 }} data-part>
      <End
        label="Part from"
        shown={part ? clock(part.from) : ''}
        take={(text) => take(text, part ? clock(part.to) : end, end)}
      />
      <End
        label="to"
        shown={part ? clock(part.to) : ''}
        take={(text) => take(part ? clock(part.from) : '0', text, '0')}
      />
      {found ? (
        <>
          <Box role="status">
            <strong>{figure(found.integratedLufs)} LUFS</strong> integrated, max short-term{' '}
            {figure(found.maxShortTermLufs)}, max momentary {figure(found.maxMomentaryLufs)} LUFS, range{' '}
            {figure(found.loudnessRangeLu)} LU, true peak {figure(found.truePeakDbtp)} dBTP
          </Box>
          {part && <PlacePart source={source} part={part} />}
          <Button color="inherit" onClick={() => onPart(null)}>
            Clear
          </Button>
        </>
      ) : (
        <Box sx={{ color: 'text.secondary' }}>
          {moving ? 'Let go to measure it.' : 'Drag over the trace, or type two times, to measure a part.'}
        </Box>
      )}
    </Box>
  );
}

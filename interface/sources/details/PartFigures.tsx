'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { partFigures, type TimeRange } from '@/core/loudness/levelTrack';
import type { SoundMeasurement } from '@/core/loudness/sound';
import { clock, figure } from '@/core/text/figures';
import { parseRange } from '@/core/text/timeEntry';

interface Props {
  readonly sound: SoundMeasurement;
  readonly seconds: number;
  readonly part: TimeRange | null;
  /** A hand is still dragging it out: it is measured when it is let go, as it may be hours long. */
  readonly moving: boolean;
  readonly onPart: (part: TimeRange | null) => void;
}

const narrow = { width: 92 } as const;

/** The figures of a part of a source: dragged out on the trace, or typed. */
export function PartFigures({ sound, seconds, part, moving, onPart }: Props) {
  const [draft, setDraft] = useState<{ from: string; to: string } | null>(null);
  const [error, setError] = useState<string | null>(null);
  const shown = part ? { from: clock(part.from), to: clock(part.to) } : { from: '', to: '' };
  const value = draft ?? shown;
  const apply = (): void => {
    if (!draft) return;
    if (draft.from.trim() === '' && draft.to.trim() === '') onPart(null);
    else {
      const found = parseRange(draft.from || '0', draft.to || String(seconds), seconds);
      if ('error' in found) return setError(found.error);
      onPart(found);
    }
    setDraft(null);
    setError(null);
  };
  const field = (key: 'from' | 'to', label: string) => (
    <TextField
      label={label}
      value={value[key]}
      error={error !== null}
      sx={narrow}
      slotProps={{ inputLabel: { shrink: true } }}
      onChange={(event) => {
        setDraft({ ...value, [key]: event.target.value });
        setError(null);
      }}
      onBlur={apply}
      onKeyDown={(event) => {
        if (event.key === 'Enter') apply();
        if (event.key === 'Escape') {
          setDraft(null);
          setError(null);
        }
      }}
    />
  );
  const found = useMemo(() => (part && !moving ? partFigures(sound, part) : null), [sound, part, moving]);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mt: 1, minHeight: 40 }} data-part>
      {field('from', 'Part from')}
      {field('to', 'to')}
      {error ? (
        <Box role="alert" sx={{ color: 'error.main' }}>
          {error}
        </Box>
      ) : found ? (
        <>
          <Box role="status">
            <strong>{figure(found.integratedLufs)} LUFS</strong> integrated, max short-term{' '}
            {figure(found.maxShortTermLufs)}, max momentary {figure(found.maxMomentaryLufs)} LUFS, range{' '}
            {figure(found.loudnessRangeLu)} LU, true peak {figure(found.truePeakDbtp)} dBTP
          </Box>
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

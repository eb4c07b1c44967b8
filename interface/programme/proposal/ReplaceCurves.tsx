'use client';

import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { curveByHand } from '@/core/programme/curveReason';
import type { Clip } from '@/core/programme/model';

/** Releases the gain curves that a hand set, where there are some: otherwise they stay. */
export function ReplaceCurves({
  clips,
  release,
  onRelease,
}: {
  clips: readonly Clip[];
  release: boolean;
  onRelease: (release: boolean) => void;
}) {
  const byHand = clips.filter(curveByHand).length;
  if (byHand === 0 && !release) return null;
  return (
    <FormControlLabel
      control={<Checkbox size="small" checked={release} onChange={(_, checked) => onRelease(checked)} />}
      label={<Box sx={{ fontSize: 12.5 }}>Replace curves set by hand ({byHand})</Box>}
    />
  );
}

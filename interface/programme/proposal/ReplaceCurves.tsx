'use client';

import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { curveOtherwise } from '@/core/programme/curveReason';
import type { Clip, CurveReason } from '@/core/programme/model';

/** Releases gain curves that a hand set, or that were worked out for something else, where there are some: otherwise they stay. */
export function ReplaceCurves({
  clips,
  kind,
  release,
  onRelease,
}: {
  clips: readonly Clip[];
  /** What is proposed: what came about in this way is replaced anyway. */
  kind: CurveReason['kind'];
  release: boolean;
  onRelease: (release: boolean) => void;
}) {
  const others = clips.filter((clip) => curveOtherwise(clip, kind)).length;
  if (others === 0 && !release) return null;
  return (
    <FormControlLabel
      control={<Checkbox size="small" checked={release} onChange={(_, checked) => onRelease(checked)} />}
      label={<Box sx={{ fontSize: 12.5 }}>Replace other curves ({others})</Box>}
    />
  );
}

import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { readClip } from '@/core/measuring/clipReading';
import { isOver, standingOf, type Standing } from './judge';
import type { Target } from './target';

/** Where a clip with its gain stands to the horizon. */
export interface ClipLevel {
  /** With its gain, LUFS; `null` when it has no loudness. */
  readonly lufs: number | null;
  /** It is too short to be gated: its loudness is that of all of it. */
  readonly ungated: boolean;
  /** Relative to the target, LU. */
  readonly relative: number | null;
  readonly truePeakDbtp: number | null;
  /** `unknown` when it has no loudness. */
  readonly standing: Standing | 'unknown';
  readonly overCeiling: boolean;
}

const NOTHING: ClipLevel = {
  lufs: null,
  ungated: false,
  relative: null,
  truePeakDbtp: null,
  standing: 'unknown',
  overCeiling: false,
};

/** @param gainDb on what was measured */
export function clipLevel(measurement: ClipMeasurement | null, gainDb: number, target: Target): ClipLevel {
  if (!measurement) return NOTHING;
  const { integratedLufs: lufs, ungated, truePeakDbtp } = readClip(measurement, gainDb);
  const relative = lufs === null ? null : lufs - target.integratedLufs;
  return {
    ...{ lufs, ungated, relative, truePeakDbtp },
    standing: relative === null ? 'unknown' : standingOf(relative, target.toleranceLu),
    overCeiling: isOver(truePeakDbtp, target.maxTruePeakDbtp),
  };
}

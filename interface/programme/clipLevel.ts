import { integratedAt } from '@/core/loudness/gainSolve';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { Target } from '@/core/targets/target';
import { figure, signed } from '@/core/text/figures';
import type { Standing } from '../parts/LevelMark';

/** Where a clip with its gain stands to the horizon. */
export interface ClipLevel {
  /** With its gain, LUFS; `null` when it has no loudness. */
  readonly lufs: number | null;
  /** Relative to the target, LU. */
  readonly relative: number | null;
  readonly truePeakDbtp: number | null;
  readonly standing: Standing;
  readonly overCeiling: boolean;
}

/** The last level worked out of each measurement: a thousand clips are drawn again and again. */
const known = new WeakMap<ClipMeasurement, { readonly gainDb: number; readonly lufs: number | null }>();

function integratedOf(measurement: ClipMeasurement, gainDb: number): number | null {
  const last = known.get(measurement);
  if (last?.gainDb === gainDb) return last.lufs;
  const lufs = integratedAt([{ blocks: measurement.blocks, gainDb }], 0);
  known.set(measurement, { gainDb, lufs });
  return lufs;
}

export function clipLevel(measurement: ClipMeasurement | null, gainDb: number, target: Target): ClipLevel {
  if (!measurement)
    return { lufs: null, relative: null, truePeakDbtp: null, standing: 'unknown', overCeiling: false };
  const lufs = integratedOf(measurement, gainDb);
  const peak = measurement.figures.truePeakDbtp;
  const truePeakDbtp = peak === null ? null : peak + gainDb;
  const relative = lufs === null ? null : lufs - target.integratedLufs;
  const standing: Standing =
    relative === null
      ? 'unknown'
      : relative > target.toleranceLu + 1e-6
        ? 'over'
        : relative < -target.toleranceLu - 1e-6
          ? 'under'
          : 'within';
  return {
    lufs,
    relative,
    truePeakDbtp,
    standing,
    overCeiling: (truePeakDbtp ?? -Infinity) > target.maxTruePeakDbtp + 1e-6,
  };
}

/** “−26.5 LUFS, 3.5 LU under the target”. */
export function levelWords({ lufs, relative, standing }: ClipLevel): string {
  if (lufs === null || relative === null) return 'no loudness measured';
  if (standing === 'within') return `${figure(lufs)} LUFS, on the target`;
  return `${figure(lufs)} LUFS, ${figure(Math.abs(relative))} LU ${standing} the target`;
}

/** “+3.0 dB”, with two decimals only where they matter. */
export function gainText(db: number): string {
  const tenths = Math.round(db * 10);
  return `${signed(db, Math.abs(db * 10 - tenths) < 0.005 ? 1 : 2)} dB`;
}

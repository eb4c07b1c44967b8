import type { Target } from '@/core/targets/target';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { MeasuredClip } from './proposal';
import { isUngated, noiseFloorAt, peakPlace, readAt } from './reading';

/** What is to be said first of a clip. */
export const CLIP_STATES = [
  'off',
  'ceiling',
  'stale',
  'byHand',
  'right',
  'silent',
  'tooShort',
  'notMeasured',
] as const;
export type ClipState = (typeof CLIP_STATES)[number];

/** One clip of the ledger; `null` wherever there is no value. */
export interface LedgerRow {
  readonly entry: MeasuredClip;
  /** Before its own gain, LUFS. */
  readonly recordedLufs: number | null;
  /** With it, LUFS. */
  readonly afterLufs: number | null;
  /** From the target, LU. */
  readonly offLu: number | null;
  readonly truePeakDbtp: number | null;
  /** Up to the ceiling, dB; under 0 past it. */
  readonly headroomDb: number | null;
  /** True peak over loudness, LU. */
  readonly spreadLu: number | null;
  /** Where the true peak is, seconds of the clip. */
  readonly peakAt: number | null;
  /** With its gain, LUFS. */
  readonly noiseFloorLufs: number | null;
  readonly state: ClipState;
}

const HAIR = 1e-6;

/** Whether a clip stands where it was put, or else at the target. */
function standsRight({ clip, measurement }: MeasuredClip, target: Target): boolean {
  const { reason, db } = clip.gain;
  const near = (value: number | null, goal: number): boolean =>
    value !== null && Math.abs(value - goal) <= target.toleranceLu + HAIR;
  if (reason.kind !== 'levelled')
    return near(measurement && readAt(measurement, 'integrated', db), target.integratedLufs);
  // Of several levelled together none needs to stand at the goal by itself.
  if (reason.mode !== 'each' && reason.mode !== 'plan') return true;
  return near(measurement && readAt(measurement, reason.measure, db), reason.goal);
}

/** Whether a clip's gain was worked out for what it is no more. */
export function isStale({ clip: { gain }, key }: Pick<MeasuredClip, 'clip' | 'key'>): boolean {
  const { reason } = gain;
  return reason.kind === 'levelled' && reason.of !== undefined && key != null && reason.of !== key;
}

/** What is to be said first of a clip. */
export function clipState(entry: MeasuredClip, target: Target): ClipState {
  const { clip, measurement } = entry;
  if (!measurement) return 'notMeasured';
  const peak = readAt(measurement, 'truePeak', clip.gain.db);
  if (peak === null) return 'silent';
  if (isUngated(measurement)) return 'tooShort';
  if (measurement.figures.integratedLufs === null) return 'silent';
  if (peak > target.maxTruePeakDbtp + HAIR) return 'ceiling';
  const { reason } = clip.gain;
  if (isStale(entry)) return 'stale';
  if (reason.kind === 'byHand') return 'byHand';
  return standsRight(entry, target) ? 'right' : 'off';
}

/** What does not change with the gain, once per measurement: a table asks for thousands. */
interface Fixed {
  readonly recordedLufs: number | null;
  readonly noiseFloorLufs: number | null;
  readonly peakAt: number;
}
const fixed = new WeakMap<ClipMeasurement, Fixed>();

function fixedOf(measurement: ClipMeasurement): Fixed {
  const known = fixed.get(measurement);
  if (known) return known;
  const found = {
    recordedLufs: readAt(measurement, 'integrated', 0),
    noiseFloorLufs: noiseFloorAt(measurement, 0),
    peakAt: peakPlace(measurement),
  };
  fixed.set(measurement, found);
  return found;
}

/** A clip with all that the ledger says of it. */
export function ledgerRow(entry: MeasuredClip, target: Target): LedgerRow {
  const { clip, measurement } = entry;
  const state = clipState(entry, target);
  if (!measurement) {
    const nothing = {
      recordedLufs: null,
      afterLufs: null,
      offLu: null,
      truePeakDbtp: null,
      headroomDb: null,
    };
    return { entry, ...nothing, spreadLu: null, peakAt: null, noiseFloorLufs: null, state };
  }
  const { recordedLufs, noiseFloorLufs, peakAt } = fixedOf(measurement);
  const { db } = clip.gain;
  const afterLufs = db === 0 ? recordedLufs : readAt(measurement, 'integrated', db);
  const truePeakDbtp = readAt(measurement, 'truePeak', db);
  return {
    entry,
    recordedLufs,
    afterLufs,
    offLu: afterLufs === null ? null : afterLufs - target.integratedLufs,
    truePeakDbtp,
    headroomDb: truePeakDbtp === null ? null : target.maxTruePeakDbtp - truePeakDbtp,
    spreadLu: truePeakDbtp === null || afterLufs === null ? null : truePeakDbtp - afterLufs,
    peakAt: truePeakDbtp === null ? null : peakAt,
    noiseFloorLufs: noiseFloorLufs === null ? null : noiseFloorLufs + db,
    state,
  };
}

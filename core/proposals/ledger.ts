import type { Target } from '@/core/check/target';
import { curveReasonOf } from '@/core/programme/curveReason';
import type { LevelMeasure } from '@/core/programme/model';
import type { MeasuredClip, Subject } from './proposal';
import { ownLoudness, readAt, readClip } from '@/core/measuring/clipReading';
import { clipLevel, type ClipLevel } from '@/core/check/clipLevel';
import { standingOf } from '@/core/check/judge';

/** What is to be said first of a clip. */
export const CLIP_STATES = [
  'off',
  'ceiling',
  'stale',
  'byHand',
  'right',
  'silent',
  'short',
  'notMeasured',
] as const;
export type ClipState = (typeof CLIP_STATES)[number];

/** One clip of the ledger; `null` wherever there is no value. */
export interface LedgerRow {
  readonly entry: MeasuredClip;
  /** With its gain. */
  readonly level: ClipLevel;
  /** As it was recorded, with its fades and the gain of its parts, LUFS: without trim, group, track and own gain. */
  readonly recordedLufs: number | null;
  /** Up to the ceiling, dB; under 0 past it. */
  readonly headroomDb: number | null;
  /** True peak over loudness, LU. */
  readonly plrLu: number | null;
  /** Where the true peak is, seconds of the clip. */
  readonly peakAt: number | null;
  /** With its gain, LUFS. */
  readonly noiseFloorLufs: number | null;
  readonly state: ClipState;
}

/** Whether a clip stands where it was put, or else at the target. */
function standsRight({ clip, measurement, besidesDb }: MeasuredClip, target: Target): boolean {
  const { reason, db } = clip.gain;
  const near = (value: number | null, goal: number): boolean =>
    value !== null && standingOf(value - goal, target.toleranceLu) === 'within';
  if (reason.kind !== 'levelled')
    return near(measurement && readAt(measurement, 'integrated', db), target.integratedLufs);
  // What steps aside within itself stands at one level alone and at another under speech.
  if (curveReasonOf(clip)) return true;
  // Of several levelled together none needs to stand at the goal by itself.
  if (reason.mode !== 'each' && reason.mode !== 'plan') return true;
  // Moved with its track, its groups or the whole programme it stands where it was put.
  const movedDb = reason.besidesDb === undefined ? 0 : (besidesDb ?? 0) - reason.besidesDb;
  return near(measurement && readAt(measurement, reason.measure, db), reason.goal + movedDb);
}

/** A difference smaller than this makes no gain stale, LU or dB: figures are shown to a tenth. */
const SAME_FIGURE = 0.05;

/** What a measure reads of something before its gain and without its track and groups; `null` when it has no value. */
export const ownReading = (
  { measurement, besidesDb = 0 }: Pick<Subject, 'measurement' | 'besidesDb'>,
  measure: LevelMeasure,
): number | null => measurement && readAt(measurement, measure, -besidesDb);

/**
 * Whether a clip's gain was worked out for what it is no more: the clip was changed, and so was the figure that the gain
 * rests on.
 */
export function isStale(entry: MeasuredClip): boolean {
  const { reason } = entry.clip.gain;
  if (reason.kind !== 'levelled' || reason.of === undefined || entry.key == null || reason.of === entry.key)
    return false;
  if (reason.measured === undefined) return true;
  const now = ownReading(entry, reason.measure);
  return now === null ? entry.measurement !== null : Math.abs(now - reason.measured) > SAME_FIGURE;
}

/** What is to be said first of a clip. */
function clipState(entry: MeasuredClip, level: ClipLevel, target: Target): ClipState {
  if (!entry.measurement) return 'notMeasured';
  if (level.truePeakDbtp === null) return 'silent';
  if (level.overCeiling) return 'ceiling';
  if (level.lufs === null) return 'silent';
  if (isStale(entry) || entry.curveStale) return 'stale';
  if (entry.clip.gain.reason.kind === 'byHand') return 'byHand';
  if (standsRight(entry, target)) return 'right';
  return level.ungated ? 'short' : 'off';
}

/** A clip with all that the ledger says of it. */
export function ledgerRow(entry: MeasuredClip, target: Target): LedgerRow {
  const { clip, measurement } = entry;
  const level = clipLevel(measurement, clip.gain.db, target);
  const state = clipState(entry, level, target);
  const { lufs, truePeakDbtp } = level;
  const recorded = measurement && ownLoudness(measurement);
  const now = measurement && readClip(measurement, clip.gain.db);
  return {
    entry,
    level,
    recordedLufs: recorded === null ? null : recorded - clip.trimDb - (entry.besidesDb ?? 0),
    headroomDb: truePeakDbtp === null ? null : target.maxTruePeakDbtp - truePeakDbtp,
    plrLu: truePeakDbtp === null || lufs === null ? null : truePeakDbtp - lufs,
    peakAt: now && now.peakAt,
    noiseFloorLufs: now && now.noiseFloorLufs,
    state,
  };
}

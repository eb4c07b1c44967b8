import { amplitudeToDb, dbToAmplitude } from '@/core/loudness/decibels';
import { integratedAt, solveGain, type GainedBlocks } from '@/core/loudness/gainSolve';
import { clampGain } from '@/core/programme/gainField';
import type { Clip } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/render/measureClip';
import { signed, withUnit } from '@/core/text/figures';
import type { GainLimit, LevelRequest, Proposal, ProposalRow, SkipReason } from './proposal';

/** A clip with its own measurement at 0 dB, `null` while there is none. */
export interface MeasuredClip {
  readonly clip: Clip;
  readonly measurement: ClipMeasurement | null;
}

const UNIT = { integrated: 'LUFS', truePeak: 'dBTP' } as const;

function truePeakAt(measurement: ClipMeasurement, gainDb: number): number | null {
  const peak = measurement.figures.truePeakDbtp;
  return peak === null ? null : peak + gainDb;
}

const blocksOf = (measurement: ClipMeasurement, gainDb: number): GainedBlocks => ({
  blocks: measurement.blocks,
  gainDb,
});

function readAt(
  measurement: ClipMeasurement,
  measure: LevelRequest['measure'],
  gainDb: number,
): number | null {
  return measure === 'integrated'
    ? integratedAt([blocksOf(measurement, gainDb)], 0)
    : truePeakAt(measurement, gainDb);
}

function skipReason({ measurement }: MeasuredClip, measure: LevelRequest['measure']): SkipReason | null {
  if (!measurement) return 'notMeasured';
  if (measurement.figures.truePeakDbtp === null) return 'silent';
  if (measure === 'truePeak') return null;
  if (measurement.blocks.length === 0) return 'tooShort';
  return measurement.figures.integratedLufs === null ? 'silent' : null;
}

const SKIPPED: Readonly<Record<SkipReason, string>> = {
  silent: 'Skipped: nothing in it is over −70 LUFS.',
  tooShort: 'Skipped: shorter than 400 ms, so it has no integrated loudness.',
  notMeasured: 'Skipped: it is still being measured.',
};

/** The gain wanted, held under the ceiling and within what a clip can have. */
function limit(wanted: number, largest: number): { gainDb: number; limitedBy: GainLimit } {
  const underCeiling = Math.min(wanted, largest);
  const gainDb = clampGain(underCeiling);
  if (gainDb !== underCeiling) return { gainDb, limitedBy: 'gainRange' };
  return { gainDb, limitedBy: underCeiling < wanted ? 'ceiling' : null };
}

function explain(
  request: LevelRequest,
  row: {
    before: number | null;
    after: number | null;
    change: number;
    wanted: number;
    limitedBy: GainLimit;
    truePeakAfter: number | null;
  },
  shared: boolean,
): string {
  const unit = UNIT[request.measure];
  const { before, after, change, wanted, limitedBy } = row;
  const who = shared ? 'All together ' : '';
  if (limitedBy === 'ceiling') {
    const cause = shared ? 'one of the clips reaches' : 'its true peak reaches';
    return `${who}${signed(wanted)} dB wanted, ${signed(change)} dB given: ${cause} ${withUnit(request.ceilingDbtp, 'dBTP')} first.`;
  }
  if (limitedBy === 'gainRange') {
    return `${who}${signed(wanted)} dB wanted, ${signed(change)} dB given: a clip’s gain goes no further.`;
  }
  const from = `${withUnit(before, unit)}, to ${withUnit(shared ? after : request.goal, unit)}`;
  return `${from}: ${signed(change)} dB${shared ? ', the same for all' : ''}.`;
}

function skippedRow(
  { clip, measurement }: MeasuredClip,
  request: LevelRequest,
  skipped: SkipReason,
): ProposalRow {
  const before = measurement ? readAt(measurement, request.measure, clip.gain.db) : null;
  return {
    clipId: clip.id,
    before,
    gainBeforeDb: clip.gain.db,
    gainAfterDb: clip.gain.db,
    after: before,
    integratedAfter: measurement ? readAt(measurement, 'integrated', clip.gain.db) : null,
    truePeakAfter: measurement ? truePeakAt(measurement, clip.gain.db) : null,
    limitedBy: null,
    skipped,
    reason: clip.gain.reason,
    sentence: SKIPPED[skipped],
  };
}

function row(
  { clip, measurement }: MeasuredClip & { measurement: ClipMeasurement },
  request: LevelRequest,
  outcome: { wanted: number; change: number; limitedBy: GainLimit; shared: boolean },
): ProposalRow {
  const gainAfterDb = clip.gain.db + outcome.change;
  const before = readAt(measurement, request.measure, clip.gain.db);
  const after = readAt(measurement, request.measure, gainAfterDb);
  const truePeakAfter = truePeakAt(measurement, gainAfterDb);
  return {
    clipId: clip.id,
    before,
    gainBeforeDb: clip.gain.db,
    gainAfterDb,
    after,
    integratedAfter: readAt(measurement, 'integrated', gainAfterDb),
    truePeakAfter,
    limitedBy: outcome.limitedBy,
    skipped: null,
    reason: {
      kind: 'levelled',
      measure: request.measure,
      mode: request.mode,
      goal: request.goal,
      stoppedByCeiling: outcome.limitedBy === 'ceiling',
    },
    sentence: explain(request, { before, after, truePeakAfter, ...outcome }, outcome.shared),
  };
}

/** The further gain on one clip that brings it to the goal, dB. */
function wantedGain(measurement: ClipMeasurement, request: LevelRequest, gainDb: number): number {
  if (request.measure === 'truePeak') return request.goal - truePeakAt(measurement, gainDb)!;
  return solveGain([blocksOf(measurement, gainDb)], request.goal)!.shiftDb;
}

function isMeasured(entry: MeasuredClip): entry is MeasuredClip & { measurement: ClipMeasurement } {
  return entry.measurement !== null;
}

function proposeEach(clips: readonly MeasuredClip[], request: LevelRequest): ProposalRow[] {
  return clips.map((entry) => {
    const skipped = skipReason(entry, request.measure);
    if (skipped || !isMeasured(entry)) return skippedRow(entry, request, skipped ?? 'notMeasured');
    const now = entry.clip.gain.db;
    const wanted = wantedGain(entry.measurement, request, now);
    const largest = request.ceilingDbtp - entry.measurement.figures.truePeakDbtp!;
    const { gainDb, limitedBy } = limit(now + wanted, largest);
    return row(entry, request, { wanted, change: gainDb - now, limitedBy, shared: false });
  });
}

/** The one further gain on all of them that brings them, taken together, to the goal; `null` when none is measurable. */
function sharedWanted(
  usable: readonly (MeasuredClip & { measurement: ClipMeasurement })[],
  request: LevelRequest,
): number | null {
  if (request.measure === 'truePeak') {
    const peak = Math.max(
      ...usable.map(({ clip, measurement }) => dbToAmplitude(truePeakAt(measurement, clip.gain.db)!)),
    );
    return request.goal - amplitudeToDb(peak)!;
  }
  const signals = usable.map(({ clip, measurement }) => blocksOf(measurement, clip.gain.db));
  return solveGain(signals, request.goal)?.shiftDb ?? null;
}

function proposeTogether(clips: readonly MeasuredClip[], request: LevelRequest): ProposalRow[] {
  const usable = clips.filter((entry) => skipReason(entry, request.measure) === null).filter(isMeasured);
  const wanted = usable.length > 0 ? sharedWanted(usable, request) : null;
  if (wanted === null) {
    return clips.map((entry) => skippedRow(entry, request, skipReason(entry, request.measure) ?? 'silent'));
  }
  // A clip that is too short to be measured moves along: its balance with the others is to stay.
  const moving = clips
    .filter((entry) => isMeasured(entry) && entry.measurement.figures.truePeakDbtp !== null)
    .filter(isMeasured);
  let change = wanted;
  let limitedBy: GainLimit = null;
  for (const { clip, measurement } of moving) {
    const now = clip.gain.db;
    const held = limit(now + change, request.ceilingDbtp - measurement.figures.truePeakDbtp!);
    if (held.gainDb - now < change) {
      change = held.gainDb - now;
      limitedBy = held.limitedBy;
    } else if (held.gainDb - now > change) {
      change = held.gainDb - now;
      limitedBy = 'gainRange';
    }
  }
  const outcome = { wanted, change, limitedBy, shared: true };
  return clips.map((entry) => {
    if (!isMeasured(entry)) return skippedRow(entry, request, 'notMeasured');
    if (entry.measurement.figures.truePeakDbtp === null) return skippedRow(entry, request, 'silent');
    return row(entry, request, outcome);
  });
}

/**
 * Works out gains for clips and explains each.
 *
 * *Each*: every clip by itself reaches the goal. *Together*: one further gain for all, such that their gating blocks
 * taken together (or the highest of their peaks) reach it. No clip passes the ceiling.
 */
export function propose(clips: readonly MeasuredClip[], request: LevelRequest): Proposal {
  return {
    request,
    rows: request.mode === 'each' ? proposeEach(clips, request) : proposeTogether(clips, request),
  };
}

/** The rows of a proposal that change something, as gains to apply. */
export function gainsOf(
  rows: readonly ProposalRow[],
): Map<string, { db: number; reason: ProposalRow['reason'] }> {
  return new Map(
    rows
      .filter((entry) => entry.skipped === null)
      .map((entry) => [entry.clipId, { db: entry.gainAfterDb, reason: entry.reason }]),
  );
}

import { amplitudeToDb, dbToAmplitude } from '@/core/loudness/decibels';
import { solveGain } from '@/core/loudness/gainSolve';
import { isOver } from '@/core/check/judge';
import { clampGain } from '@/core/programme/gainField';
import type { Clip } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { exactPeakMatters, exactPeakToShow } from './exactPeak';
import { explain, farPart, placeInClip, SKIPPED, warningsOf, type PlaceTold, type Shared } from './explain';
import type { GainLimit, LevelRequest, MeasuredClip, Proposal, ProposalRow, SkipReason } from './proposal';
import {
  gained,
  gatingBlocksOf,
  integratedWith,
  isUngated,
  readAt,
  ungatedAt,
} from '@/core/measuring/clipReading';

type Measured = MeasuredClip & { readonly measurement: ClipMeasurement };

const isMeasured = (entry: MeasuredClip): entry is Measured => entry.measurement !== null;

function skipReason(entry: MeasuredClip, { measure, spokenOnly }: LevelRequest): SkipReason | null {
  if (!isMeasured(entry)) return 'notMeasured';
  const { measurement } = entry;
  if (measurement.figures.truePeakDbtp === null) return 'silent';
  if (measure === 'truePeak' || measure === 'samplePeak') return null;
  if (measure !== 'integrated') return readAt(measurement, measure, 0) === null ? 'tooShort' : null;
  const blocks = gatingBlocksOf(entry, spokenOnly);
  return integratedWith(measurement, blocks, 0) === null ? 'silent' : null;
}

/** The gain wanted, held under the ceiling and within what a clip can have. */
function limit(wanted: number, largest: number): { gainDb: number; limitedBy: GainLimit } {
  const underCeiling = Math.min(wanted, largest);
  const gainDb = clampGain(underCeiling);
  if (gainDb !== underCeiling) return { gainDb, limitedBy: 'gainRange' };
  return { gainDb, limitedBy: underCeiling < wanted ? 'ceiling' : null };
}

/**
 * What a promise to keep a ceiling goes by: the larger of the standard's true peak and the exact one, where that is
 * known; dBTP.
 */
function highestPeak({ figures, exactTruePeakDbtp }: ClipMeasurement): number | null {
  const { truePeakDbtp } = figures;
  return truePeakDbtp === null ? null : Math.max(truePeakDbtp, exactTruePeakDbtp ?? -Infinity);
}

/** The largest gain a clip may have: up to the ceiling, unless told to go past it. */
const largestGain = (measurement: ClipMeasurement, { ceilingDbtp, policy }: LevelRequest): number =>
  policy === 'pass' ? Infinity : ceilingDbtp - highestPeak(measurement)!;

function skippedRow(entry: MeasuredClip, request: LevelRequest, skipped: SkipReason): ProposalRow {
  const { clip, measurement } = entry;
  const now = clip.gain.db;
  const before = measurement ? readAt(measurement, request.measure, now) : null;
  return {
    clipId: clip.id,
    before,
    gainBeforeDb: now,
    gainAfterDb: now,
    after: before,
    integratedAfter: measurement ? readAt(measurement, 'integrated', now) : null,
    truePeakAfter: measurement ? readAt(measurement, 'truePeak', now) : null,
    exactPeakAfter: null,
    limitedBy: null,
    passesCeiling: false,
    skipped,
    warnings: entry.damage ?? [],
    uneven: false,
    reason: clip.gain.reason,
    sentence: SKIPPED[skipped],
  };
}

/** What a gain was worked out to. */
interface Outcome {
  readonly wanted: number;
  readonly change: number;
  readonly limitedBy: GainLimit;
  readonly shared: Shared;
  /** Whose peak says how far it may go. */
  readonly holder: Measured;
}

function row(entry: Measured, request: LevelRequest, outcome: Outcome, place: PlaceTold): ProposalRow {
  const { clip, measurement } = entry;
  const { limitedBy, change } = outcome;
  const gainAfterDb = clip.gain.db + change;
  const blocks = gatingBlocksOf(entry, request.spokenOnly);
  const before = readAt(measurement, request.measure, clip.gain.db, blocks);
  const after = readAt(measurement, request.measure, gainAfterDb, blocks);
  const truePeakAfter = readAt(measurement, 'truePeak', gainAfterDb);
  const highest = highestPeak(measurement);
  const passesCeiling = highest !== null && isOver(highest + gainAfterDb, request.ceilingDbtp);
  const exactPeak = measurement.exactTruePeakDbtp ?? null;
  const exactPeakAfter = exactPeakToShow(truePeakAfter, exactPeak === null ? null : exactPeak + gainAfterDb);
  return {
    clipId: clip.id,
    before,
    gainBeforeDb: clip.gain.db,
    gainAfterDb,
    after,
    integratedAfter: readAt(measurement, 'integrated', gainAfterDb),
    truePeakAfter,
    exactPeakAfter,
    limitedBy,
    passesCeiling,
    skipped: null,
    warnings: [...(entry.damage ?? []), ...warningsOf(entry, gainAfterDb, request, place)],
    uneven: farPart(measurement) !== null,
    reason: {
      kind: 'levelled',
      measure: request.measure,
      mode: request.mode,
      goal: request.goal,
      stoppedByCeiling: limitedBy === 'ceiling',
      ...(entry.key != null && { of: entry.key }),
    },
    sentence: explain(
      request,
      { ...outcome, before, after, passesCeiling, truePeakAfter: exactPeakAfter ?? truePeakAfter },
      place,
    ),
  };
}

/** The further gain on one clip that brings it to the goal, dB. */
function wantedGain(entry: Measured, request: LevelRequest): number {
  const { clip, measurement } = entry;
  const { measure, goal, spokenOnly } = request;
  const now = clip.gain.db;
  if (measure !== 'integrated') return goal - readAt(measurement, measure, now)!;
  if (isUngated(measurement)) return goal - ungatedAt(measurement, now)!;
  return solveGain([gained(gatingBlocksOf(entry, spokenOnly), now)], goal)!.shiftDb;
}

function proposeEach(clips: readonly MeasuredClip[], request: LevelRequest, place: PlaceTold): ProposalRow[] {
  return clips.map((entry) => {
    const skipped = skipReason(entry, request);
    if (skipped || !isMeasured(entry)) return skippedRow(entry, request, skipped ?? 'notMeasured');
    const now = entry.clip.gain.db;
    const wanted = wantedGain(entry, request);
    const { gainDb, limitedBy } = limit(now + wanted, largestGain(entry.measurement, request));
    return row(
      entry,
      request,
      { wanted, change: gainDb - now, limitedBy, shared: null, holder: entry },
      place,
    );
  });
}

/** The one further gain on all of them that brings them, taken together, to the goal; `null` when none is measurable. */
function sharedWanted(usable: readonly Measured[], request: LevelRequest): number | null {
  const { measure, goal, spokenOnly } = request;
  if (measure === 'integrated') {
    const signals = usable
      .filter(({ measurement }) => !isUngated(measurement))
      .map((entry) => gained(gatingBlocksOf(entry, spokenOnly), entry.clip.gain.db));
    return solveGain(signals, goal)?.shiftDb ?? null;
  }
  const highest = usable.map(({ clip, measurement }) =>
    dbToAmplitude(readAt(measurement, measure, clip.gain.db)!),
  );
  return goal - amplitudeToDb(highest.reduce((a, b) => Math.max(a, b), 0))!;
}

function proposeTogether(
  clips: readonly MeasuredClip[],
  request: LevelRequest,
  shared: Shared,
  place: PlaceTold,
): ProposalRow[] {
  const usable = clips.filter((entry) => skipReason(entry, request) === null).filter(isMeasured);
  const wanted = usable.length > 0 ? sharedWanted(usable, request) : null;
  if (wanted === null) {
    return clips.map((entry) => skippedRow(entry, request, skipReason(entry, request) ?? 'tooShort'));
  }
  // A clip that has no figure of its own moves along: its balance with the others is to stay.
  const moving = clips
    .filter(isMeasured)
    .filter(({ measurement }) => measurement.figures.truePeakDbtp !== null);
  let change = wanted;
  let limitedBy: GainLimit = null;
  let holder = moving[0]!;
  for (const entry of moving) {
    const now = entry.clip.gain.db;
    const held = limit(now + change, largestGain(entry.measurement, request));
    if (held.gainDb - now < change) {
      change = held.gainDb - now;
      limitedBy = held.limitedBy;
      holder = entry;
    } else if (held.gainDb - now > change) {
      change = held.gainDb - now;
      limitedBy = 'gainRange';
    }
  }
  return clips.map((entry) => {
    if (!isMeasured(entry)) return skippedRow(entry, request, 'notMeasured');
    if (entry.measurement.figures.truePeakDbtp === null) return skippedRow(entry, request, 'silent');
    const own = limitedBy === 'ceiling' ? holder : entry;
    return row(entry, request, { wanted, change, limitedBy, shared, holder: own }, place);
  });
}

/**
 * Works out gains for clips and explains each.
 *
 * *Each*: every clip by itself reaches the goal. *Together*: one further gain for all of a set, such that their gating
 * blocks taken together (or the highest of their maxima) reach it. No clip passes the ceiling unless told to.
 * @param setOf which set a clip belongs to when they are levelled together; all are one set when left out
 * @param place how a place in a clip is told
 */
export function propose(
  clips: readonly MeasuredClip[],
  request: LevelRequest,
  { setOf = () => '', place = placeInClip }: { setOf?: (clip: Clip) => string; place?: PlaceTold } = {},
): Proposal {
  if (request.mode === 'each') return { request, rows: proposeEach(clips, request, place) };
  const sets = new Map<string, MeasuredClip[]>();
  for (const entry of clips) {
    const set = setOf(entry.clip);
    const members = sets.get(set);
    if (members) members.push(entry);
    else sets.set(set, [entry]);
  }
  const shared = sets.size > 1 ? 'set' : 'all';
  const rows = [...sets.values()].flatMap((set) =>
    // What is a set by itself is levelled by itself.
    set.length === 1
      ? proposeEach(set, { ...request, mode: 'each' }, place)
      : proposeTogether(set, request, shared, place),
  );
  const byClip = new Map(rows.map((proposed) => [proposed.clipId, proposed]));
  return { request, rows: clips.map(({ clip }) => byClip.get(clip.id)!) };
}

/** The clips whose exact true peak has to be known before a proposal can promise to keep the ceiling. */
export function wantExactPeak({ request, rows }: Proposal, clips: readonly MeasuredClip[]): MeasuredClip[] {
  if (request.policy === 'pass') return [];
  return clips.filter(({ measurement }, i) => {
    const row = rows[i]!;
    if (!measurement || measurement.exactTruePeakDbtp !== undefined || row.skipped !== null) return false;
    return exactPeakMatters(row.truePeakAfter, request.ceilingDbtp);
  });
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

import { amplitudeToDb, dbToAmplitude } from '@/core/loudness/decibels';
import { solveGain } from '@/core/loudness/gainSolve';
import { signed, withUnit } from '@/core/text/figures';
import { isOver } from '@/core/check/judge';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { exactPeakMatters, exactPeakToShow } from './exactPeak';
import { explain, farPart, placeInClip, SKIPPED, warningsOf, type PlaceTold, type Shared } from './explain';
import { ownReading } from './ledger';
import { held, heldTogether, type Held } from './held';
import type { LevelRequest, Worked, ProposalRow, SkipReason, Subject } from './proposal';
import {
  gained,
  gatingBlocksOf,
  integratedWith,
  isUngated,
  readAt,
  readClip,
  ungatedAt,
  UNIT,
} from '@/core/measuring/clipReading';

type Measured = Subject & { readonly measurement: ClipMeasurement };

const isMeasured = (entry: Subject): entry is Measured => entry.measurement !== null;

/** Whether its own limiter takes something off at a gain: what is measured is before it. */
function isLimited({ measurement, limitedOverDbtp = null }: Measured, gainDb: number): boolean {
  const peak = highestPeak(measurement);
  return limitedOverDbtp !== null && peak !== null && isOver(peak + gainDb, limitedOverDbtp);
}

function skipReason(entry: Subject, { measure, spokenOnly, policy }: LevelRequest): SkipReason | null {
  if (!isMeasured(entry)) return 'notMeasured';
  const { measurement } = entry;
  if (measurement.figures.truePeakDbtp === null) return 'silent';
  if (policy !== 'limit' && isLimited(entry, entry.gain.db)) return 'limiter';
  if (measure === 'truePeak' || measure === 'samplePeak') return null;
  if (measure !== 'integrated') return readAt(measurement, measure, 0) === null ? 'tooShort' : null;
  const blocks = gatingBlocksOf(entry, spokenOnly);
  if (integratedWith(measurement, blocks, 0) !== null) return null;
  return integratedWith(measurement, measurement.blocks, 0) === null ? 'silent' : 'noSpeech';
}

/**
 * What a promise to keep a ceiling goes by: the larger of the standard's true peak and the exact one, where that is
 * known; dBTP.
 */
function highestPeak({ figures, exactTruePeakDbtp }: ClipMeasurement): number | null {
  const { truePeakDbtp } = figures;
  return truePeakDbtp === null ? null : Math.max(truePeakDbtp, exactTruePeakDbtp ?? -Infinity);
}

/** How far something can be changed: up to the ceiling, unless told to go past it, and within what its gain can be. */
function heldOf({ gain, range, measurement }: Measured, wantedDb: number, request: LevelRequest): Held {
  const toCeiling =
    request.policy !== 'stop' ? Infinity : request.ceilingDbtp - highestPeak(measurement)! - gain.db;
  return held(wantedDb, toCeiling, { minDb: range.min - gain.db, maxDb: range.max - gain.db });
}

function skippedRow(entry: Subject, request: LevelRequest, skipped: SkipReason): ProposalRow {
  const { id, name, gain, measurement } = entry;
  const now = gain.db;
  const before = measurement ? readAt(measurement, request.measure, now) : null;
  return {
    id,
    name,
    before,
    gainBeforeDb: now,
    gainAfterDb: now,
    after: before,
    integratedAfter: measurement ? readAt(measurement, 'integrated', now) : null,
    truePeakAfter: measurement ? readAt(measurement, 'truePeak', now) : null,
    exactPeakAfter: null,
    noiseFloorAfter: measurement && readClip(measurement, now).noiseFloorLufs,
    limitedBy: null,
    passesCeiling: false,
    needsLimiter: false,
    skipped,
    warnings: entry.damage ?? [],
    uneven: false,
    reason: gain.reason,
    sentence: SKIPPED[skipped],
  };
}

/** What a gain was worked out to. */
interface Outcome {
  readonly held: Held;
  readonly shared: Shared;
  /** Whose peak or gain says how far it may go. */
  readonly holder: Measured;
}

/** What is read of something with a gain. */
function figuresAfter(entry: Measured, request: LevelRequest, gainAfterDb: number) {
  const { gain, measurement } = entry;
  const blocks = gatingBlocksOf(entry, request.spokenOnly);
  const reading = readClip(measurement, gainAfterDb);
  const { truePeakDbtp: truePeakAfter } = reading;
  const highest = highestPeak(measurement);
  const exactPeak = measurement.exactTruePeakDbtp ?? null;
  const over = highest !== null && isOver(highest + gainAfterDb, request.ceilingDbtp);
  return {
    before: readAt(measurement, request.measure, gain.db, blocks),
    gainBeforeDb: gain.db,
    gainAfterDb,
    after: readAt(measurement, request.measure, gainAfterDb, blocks),
    integratedAfter: reading.integratedLufs,
    truePeakAfter,
    exactPeakAfter: exactPeakToShow(truePeakAfter, exactPeak === null ? null : exactPeak + gainAfterDb),
    noiseFloorAfter: reading.noiseFloorLufs,
    passesCeiling: over && request.policy !== 'limit',
    needsLimiter: over && request.policy === 'limit',
    uneven: farPart(measurement) !== null,
  };
}

function row(entry: Measured, request: LevelRequest, outcome: Outcome, place: PlaceTold): ProposalRow {
  const { limitedBy, changeDb } = outcome.held;
  const gainAfterDb = entry.gain.db + changeDb;
  const { onTopDb = 0 } = entry;
  const figures = figuresAfter(entry, request, gainAfterDb);
  const truePeakAfter = figures.exactPeakAfter ?? figures.truePeakAfter;
  return {
    id: entry.id,
    name: entry.name,
    ...figures,
    limitedBy,
    skipped: null,
    warnings: [...(entry.damage ?? []), ...warningsOf(entry, gainAfterDb, request, place)],
    // What moves along with others keeps its reason.
    reason: entry.staysByHand
      ? entry.gain.reason
      : {
          kind: 'levelled',
          measure: request.measure,
          mode: request.mode,
          goal: request.goal + onTopDb,
          stoppedByCeiling: limitedBy === 'ceiling',
          ...(entry.key != null && { of: entry.key, measured: ownReading(entry, request.measure)! }),
          ...(entry.besidesDb !== undefined && { besidesDb: entry.besidesDb }),
        },
    sentence: explain(request, { ...figures, ...outcome, onTopDb, truePeakAfter }, place),
  };
}

/**
 * A row with a gain that was typed in place of the one worked out; what is skipped or not measured keeps its row.
 * @param gainDb within the range of the gain
 */
export function typedRow(
  entry: Subject,
  proposed: ProposalRow,
  request: LevelRequest,
  gainDb: number,
  place: PlaceTold = placeInClip,
): ProposalRow {
  if (!isMeasured(entry) || proposed.skipped !== null) return proposed;
  const figures = figuresAfter(entry, request, gainDb);
  const { after, passesCeiling, exactPeakAfter, truePeakAfter } = figures;
  const past = passesCeiling
    ? `; its peak goes to ${withUnit(exactPeakAfter ?? truePeakAfter, 'dBTP')}, past the ceiling`
    : '';
  return {
    ...proposed,
    ...figures,
    limitedBy: null,
    warnings: [...(entry.damage ?? []), ...warningsOf(entry, gainDb, request, place)],
    reason: { kind: 'byHand' },
    sentence: `By hand: ${signed(gainDb - entry.gain.db)} dB, to ${withUnit(after, UNIT[request.measure])}${past}.`,
  };
}

/** The gain of one without what was set by ear above it: what a goal is for, dB. */
const underEar = ({ gain, onTopDb = 0 }: Measured): number => gain.db - onTopDb;

/** The further gain on one that brings it to the goal, dB. */
function wantedGain(entry: Measured, request: LevelRequest): number {
  const { measurement } = entry;
  const { measure, goal, spokenOnly } = request;
  const now = underEar(entry);
  if (measure !== 'integrated') return goal - readAt(measurement, measure, now)!;
  if (isUngated(measurement)) return goal - ungatedAt(measurement, now)!;
  return solveGain([gained(gatingBlocksOf(entry, spokenOnly), now)], goal)!.shiftDb;
}

function proposeEach(clips: readonly Subject[], request: LevelRequest, place: PlaceTold): ProposalRow[] {
  return clips.map((entry) => {
    const skipped = entry.staysByHand ? 'byHand' : skipReason(entry, request);
    if (skipped || !isMeasured(entry)) return skippedRow(entry, request, skipped ?? 'notMeasured');
    const own = heldOf(entry, wantedGain(entry, request), request);
    if (request.policy !== 'limit' && isLimited(entry, entry.gain.db + own.changeDb))
      return skippedRow(entry, request, 'limiter');
    return row(entry, request, { held: own, shared: null, holder: entry }, place);
  });
}

/** The one further gain on all of them that brings them, taken together, to the goal; `null` when none is measurable. */
function sharedWanted(usable: readonly Measured[], request: LevelRequest): number | null {
  const { measure, goal, spokenOnly } = request;
  if (measure === 'integrated') {
    const signals = usable
      .filter(({ measurement }) => !isUngated(measurement))
      .map((entry) => gained(gatingBlocksOf(entry, spokenOnly), underEar(entry)));
    return solveGain(signals, goal)?.shiftDb ?? null;
  }
  const highest = usable.map((entry) => dbToAmplitude(readAt(entry.measurement, measure, underEar(entry))!));
  return goal - amplitudeToDb(highest.reduce((a, b) => Math.max(a, b), 0))!;
}

function proposeTogether(
  clips: readonly Subject[],
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
    .filter(({ measurement }) => measurement.figures.truePeakDbtp !== null)
    .filter((entry) => skipReason(entry, request) !== 'limiter');
  const first = heldTogether(moving.map((of) => ({ of, held: heldOf(of, wanted, request) })));
  return clips.map((entry) => {
    if (!isMeasured(entry)) return skippedRow(entry, request, 'notMeasured');
    if (entry.measurement.figures.truePeakDbtp === null) return skippedRow(entry, request, 'silent');
    if (skipReason(entry, request) === 'limiter') return skippedRow(entry, request, 'limiter');
    const holder = first.held.limitedBy === null ? entry : first.of;
    return row(entry, request, { held: first.held, shared, holder }, place);
  });
}

/**
 * Works out gains for clips, sources or files and explains each.
 *
 * *Each*: every one by itself reaches the goal. *Together*: one further gain for all of a set, such that their gating
 * blocks taken together (or the highest of their maxima) reach it. None passes the ceiling unless told to.
 * @param setOf which set one belongs to when they are levelled together; all are one set when left out
 * @param place how a place in one is told
 */
export function propose<S extends Subject>(
  subjects: readonly S[],
  request: LevelRequest,
  { setOf = () => '', place = placeInClip }: { setOf?: (subject: S) => string; place?: PlaceTold } = {},
): Worked {
  if (request.mode === 'each') return { request, rows: proposeEach(subjects, request, place) };
  const sets = new Map<string, S[]>();
  for (const entry of subjects) {
    const set = setOf(entry);
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
  const byId = new Map(rows.map((proposed) => [proposed.id, proposed]));
  return { request, rows: subjects.map(({ id }) => byId.get(id)!) };
}

/** Those whose exact true peak has to be known before a proposal can promise to keep the ceiling. */
export function wantExactPeak<S extends Subject>({ request, rows }: Worked, subjects: readonly S[]): S[] {
  if (request.policy === 'pass') return [];
  return subjects.filter(({ measurement }, i) => {
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
      .map((entry) => [entry.id, { db: entry.gainAfterDb, reason: entry.reason }]),
  );
}

import { mergeRanges } from '@/core/loudness/levelTrack';
import { dialogueRanges } from '@/core/programme/dialogue';
import { clipEnd, type Clip, type Id, type Project, type Role } from '@/core/programme/model';
import { everythingRoom, moveEverything } from '@/core/programme/edits/levels';
import { applyCurves } from '@/core/programme/curveReason';
import { applyGains } from '@/core/programme/edits/gain';
import { CLIP_GAIN } from '@/core/programme/gainField';
import { PLAN_PARTS, type Plan, type PlanPart } from '@/core/programme/plan';
import { placesOverLimits, type LevelsOverTime, type PlaceOverLimit } from '@/core/check/findings/overLimits';
import type { Target } from '@/core/check/target';
import { signed, withUnit } from '@/core/text/figures';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import { integratedAt, solveGain } from '@/core/loudness/gainSolve';
import { placeInClip, type PlaceTold } from './explain';
import { isStale } from './ledger';
import { duckedByPlan } from './planDucking';
import { earWords, keepingEar, setByEar, type SetByEar } from './setByEar';
import type { ProgrammeLevel } from './programmeShift';
import { gainsOf, propose, typedRow, wantExactPeak } from './propose';
import { typedWords, type Proposal } from './protocol';
import { CEILING_MARGIN_DB, held, type Held } from './held';
import type { LevelRequest, MeasuredClip, ProposalRow } from './proposal';

/** Music for this much of its length under speech is music under speech. */
const UNDER = 0.5;

/** Seconds that two lists of ranges have in common. */
function shared(ranges: readonly { from: number; to: number }[], from: number, to: number): number {
  return ranges.reduce(
    (sum, range) => sum + Math.max(0, Math.min(to, range.to) - Math.max(from, range.from)),
    0,
  );
}

/** Which part of a plan each clip belongs to. */
export function planPartOf(project: Project): (clip: Clip) => PlanPart {
  const roles = new Map<Id, Role>(project.tracks.map(({ id, role }) => [id, role]));
  const speech = mergeRanges(dialogueRanges(project));
  return (clip) => {
    const role = roles.get(clip.trackId) ?? 'dialogue';
    if (role !== 'music') return role;
    const from = clip.start / project.sampleRate;
    const to = clipEnd(clip) / project.sampleRate;
    return shared(speech, from, to) >= UNDER * (to - from) ? 'musicUnder' : 'musicAlone';
  };
}

/** What carrying a plan out makes of one part. */
export interface PlanStep {
  readonly part: PlanPart;
  /** Where it is brought to, LUFS; `null` when the plan leaves it alone. */
  readonly goal: number | null;
  /** What was asked for; `null` when the plan leaves it alone. */
  readonly request: LevelRequest | null;
  readonly rows: readonly ProposalRow[];
  /** Clips whose gain was set by hand, which is kept. */
  readonly kept: readonly Id[];
  /** Gains set by ear on their tracks and groups, which stay on top of the goal. */
  readonly onTop: readonly SetByEar[];
  /** Clips whose exact true peak has to be known before their ceiling can be promised. */
  readonly inexact: readonly Clip[];
}

/** A change smaller than this is none, dB: what stands where it belongs stays to the bit. */
const SAME_DB = 0.005;

/** The row, or the same with the present gain where it would hardly move. */
function settled(row: ProposalRow): ProposalRow {
  return Math.abs(row.gainAfterDb - row.gainBeforeDb) < SAME_DB
    ? { ...row, gainAfterDb: row.gainBeforeDb }
    : row;
}

const NONE: ReadonlySet<Id> = new Set();

/** Whether a clip is new or stale: nothing was worked out for it as it is. A gain that was set by hand is neither. */
export const isChanged = (entry: MeasuredClip): boolean =>
  entry.clip.gain.reason.kind === 'asRecorded' || isStale(entry) || entry.curveStale === true;

/**
 * Works out the gains a plan gives: dialogue first, then the rest around it.
 *
 * Once a plan has been carried out and the programme brought to its target by one common shift, all parts (and their
 * ceilings) stand that much from where the plan put them; what stands there is left alone, so that carrying it out again
 * changes nothing. Moves of the whole programme before that, and another target after it, change no part's level: the
 * common shift at the end sees to that.
 * @param entries every clip with its measurement
 *
 * What was set by ear on tracks and groups stays on top of where the plan puts their clips.
 * @param release clips, tracks and groups whose gain was set by hand or by ear and is levelled all the same
 * @param changedOnly only clips that are new (as recorded) or stale are levelled
 */
export function planSteps(
  project: Project,
  plan: Plan,
  entries: readonly MeasuredClip[],
  {
    release = NONE,
    changedOnly = false,
    place = placeInClip,
    bare,
  }: {
    /** What is measured of a clip without its gain curve; those that have none are known by their entries. */
    readonly bare?: (clip: Clip) => ClipMeasurement | null;
    readonly release?: ReadonlySet<Id>;
    readonly changedOnly?: boolean;
    readonly place?: PlaceTold;
  } = {},
): PlanStep[] {
  const { target } = project;
  const anchorLufs = planAnchor(project);
  // The programme is moved by as much afterwards: its ceiling is that of the target then.
  const belowDb = anchorLufs - target.integratedLufs;
  const heeding = keepingEar(project, entries, release);
  const own = new Map(entries.map(({ clip, measurement }) => [clip.id, measurement]));
  const ducked = duckedByPlan(project, plan, heeding, (clip) =>
    clip.curve.length === 0 ? own.get(clip.id)! : (bare?.(clip) ?? null),
  );
  const alone = planPartOf(project);
  const partOf = (clip: Clip): PlanPart => (ducked.get(clip.id)?.aside ? 'musicAlone' : alone(clip));
  return PLAN_PARTS.map((part) => {
    const level = plan.levels[part];
    const all = heeding.filter(({ clip }) => partOf(clip) === part);
    const kept = new Set(all.flatMap(({ clip, staysByHand }) => (staysByHand ? [clip.id] : [])));
    const left = { part, kept: [...kept] };
    if (!level) return { ...left, goal: null, request: null, rows: [], onTop: [], inexact: [] };
    const goal = anchorLufs + level.relativeLu;
    const request: LevelRequest = {
      measure: level.measure,
      mode: level.how === 'each' ? 'each' : 'together',
      goal,
      ceilingDbtp: (level.ceilingDbtp ?? target.maxTruePeakDbtp) + belowDb,
      policy: 'stop',
      spokenOnly: part === 'dialogue' || part === 'narration',
      floorLufs: null,
    };
    const wanted = all
      .filter((entry) => !kept.has(entry.clip.id) && (!changedOnly || isChanged(entry)))
      .map((entry) => ducked.get(entry.clip.id)?.entry ?? entry);
    const proposal = propose(wanted, request, {
      setOf: ({ clip: { setName, sourceId } }) => setName ?? sourceId,
      place,
    });
    const under = plan.levels.musicUnder;
    const planned = proposal.rows.map((row): ProposalRow => {
      const { reason } = row;
      const done = settled(
        reason.kind === 'levelled' && !row.skipped ? { ...row, reason: { ...reason, mode: 'plan' } } : row,
      );
      const aside = under && ducked.get(row.id);
      return aside ? aside.withCurve(done, anchorLufs + under.relativeLu, under) : done;
    });
    const inexact = wantExactPeak(proposal, wanted).map(({ clip }) => clip);
    const onTop = setByEar(
      project,
      wanted.map(({ clip }) => clip),
    ).filter(({ kind, id }) => kind !== 'clip' && !release.has(id));
    return { ...left, goal, request, rows: planned, onTop, inexact };
  });
}

/** Where a plan's level of 0 LU stands, LUFS: where it was carried out to, else the target's loudness. */
export const planAnchor = ({ planAnchorLufs, target }: Project): number =>
  planAnchorLufs ?? target.integratedLufs;

/** A step in a sentence. */
export function stepSentence({ goal, rows, kept, onTop }: PlanStep): string {
  if (goal === null) return 'Left as it is.';
  const changed = rows.filter((row) => row.gainAfterDb !== row.gainBeforeDb || row.curveChanges);
  const aside = rows.filter(({ ducked }) => ducked && ducked.curve.length > 0).length;
  const held = rows.filter((row) => row.limitedBy !== null).length;
  const skipped = rows.filter((row) => row.skipped !== null).length;
  const warned = changed.filter((row) => row.warnings.length > 0).length;
  const parts = [
    `To ${withUnit(goal, 'LUFS')}:`,
    changed.length === 0
      ? `${rows.length === 0 ? 'no clips' : 'all stand there already'}`
      : `${changed.length} of ${rows.length} change`,
    ...(aside > 0 ? [`${aside} also ${aside === 1 ? 'goes' : 'go'} under speech`] : []),
    ...(held > 0 ? [`${held} held by the ceiling`] : []),
    ...(warned > 0 ? [`${warned} to check`] : []),
    ...(skipped > 0 ? [`${skipped} skipped`] : []),
    ...(kept.length > 0 ? [`${kept.length} set by hand and left alone`] : []),
    ...onTop.map((ear) => `${earWords(ear)} on top`),
  ];
  return `${parts[0]} ${parts.slice(1).join(', ')}.`;
}

/** The gains of all steps as one proposal; the programme is shifted to its target afterwards, see {@link carriedOut}. */
export function planProposal(
  plan: Plan,
  steps: readonly PlanStep[],
  entries: readonly MeasuredClip[],
  place: PlaceTold = placeInClip,
): Proposal<ProposalRow> {
  const byId = new Map(entries.map((entry) => [entry.id, entry]));
  const requestOf = new Map(steps.flatMap(({ rows, request }) => rows.map(({ id }) => [id, request!])));
  return {
    rows: steps.flatMap(({ rows }) => rows),
    unit: 'LUFS',
    gives: 'gain',
    range: CLIP_GAIN,
    typed: (row, gainDb) => typedRow(byId.get(row.id)!, row, requestOf.get(row.id)!, gainDb, place),
    inexact: steps.flatMap(({ inexact }) => inexact.map(({ id }) => id)),
    edit: (project, rows) => {
      const changed = rows.filter((row) => row.gainAfterDb !== row.gainBeforeDb);
      const curves = rows.filter(({ curveChanges, skipped }) => curveChanges && skipped === null);
      const levelled = changed.length === 0 ? project : applyGains(project, gainsOf(changed));
      return applyCurves(levelled, new Map(curves.map(({ id, ducked }) => [id, ducked!])));
    },
    step: (_, typed) => `Apply plan ${plan.name}${typedWords(typed)}`,
  };
}

/** The common shift that brings the programme to its target. */
export interface PlanShift extends Held {
  /** What the programme then measures, LUFS and dBTP. */
  readonly integratedAfter: number | null;
  readonly truePeakAfter: number;
}

/** @returns `null` when the programme has nothing to measure */
export function planShift(level: ProgrammeLevel, project: Project): PlanShift | null {
  const { target } = project;
  const signal = [{ blocks: level.blocks, gainDb: 0 }];
  const solution = solveGain(signal, target.integratedLufs);
  if (!solution || level.truePeakDbtp === null) return null;
  const wantedDb = Math.abs(solution.shiftDb) < SAME_DB ? 0 : solution.shiftDb;
  const room = target.maxTruePeakDbtp - CEILING_MARGIN_DB - level.truePeakDbtp;
  const shift = held(wantedDb, Math.abs(room) < SAME_DB ? 0 : room, everythingRoom(project));
  const { changeDb: shiftDb } = shift;
  return {
    ...shift,
    integratedAfter: integratedAt(signal, shiftDb),
    truePeakAfter: level.truePeakDbtp + shiftDb,
  };
}

/** A common shift in a sentence. */
export function shiftSentence(shift: PlanShift, project: Project): string {
  const goal = withUnit(project.target.integratedLufs, 'LUFS');
  if (shift.limitedBy === 'ceiling')
    return `Then all tracks by ${signed(shift.changeDb, 2)} dB; ${signed(shift.wantedDb, 2)} dB would reach ${goal}, but the programme’s true peak reaches ${withUnit(project.target.maxTruePeakDbtp, 'dBTP')} first.`;
  if (shift.limitedBy === 'gainRange')
    return `Then all tracks by ${signed(shift.changeDb, 2)} dB; a track’s gain goes no further.`;
  return shift.changeDb === 0
    ? `The programme then stands at ${goal}.`
    : `Then all tracks by ${signed(shift.changeDb, 2)} dB, which brings the programme to ${goal}.`;
}

/** Where the sum would pass the ceiling with a shift, and how far. */
export function placesOverCeiling(levels: LevelsOverTime, shiftDb: number, target: Target): PlaceOverLimit[] {
  // A ceiling that is lower by as much is the same as peaks that are higher.
  const lowered = { ...target, maxTruePeakDbtp: target.maxTruePeakDbtp - shiftDb };
  return placesOverLimits(levels, lowered)
    .filter(({ kind }) => kind === 'truePeak')
    .map((finding) => ({ ...finding, worst: finding.worst + shiftDb }));
}

/** A programme that has a plan's gains with the plan and its level remembered, and every track moved by the same shift. */
export function carriedOut(planned: Project, plan: Plan, shiftDb: number): Project {
  const planAnchorLufs = planAnchor(planned);
  const same = planned.plan === plan && planned.planAnchorLufs === planAnchorLufs;
  return moveEverything(same ? planned : { ...planned, plan, planAnchorLufs }, shiftDb);
}
